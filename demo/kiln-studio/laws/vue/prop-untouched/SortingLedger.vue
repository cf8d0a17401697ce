<script setup lang="ts">
import { computed } from 'vue'

const props = defineProps<{ pieces: string[] }>()
// The flaw: `sort` sorts the parent's own list.
const sorted = computed(() => props.pieces.sort())
</script>

<template>
  <ul><li v-for="piece in sorted" :key="piece">{{ piece }}</li></ul>
</template>
