<script setup lang="ts">
import { ref } from 'vue'

const props = defineProps<{ label: string }>()
// The flaw: the label is copied once.
const shown = ref(props.label)
</script>

<template>
  <strong>{{ shown }}</strong>
</template>
