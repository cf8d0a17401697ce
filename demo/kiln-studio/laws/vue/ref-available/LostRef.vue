<script setup lang="ts">
import { ref } from 'vue'

defineProps<{ label: string }>()
// The flaw: the template calls the field by another name.
const field = ref<HTMLInputElement | null>(null)
defineExpose({ field })
</script>

<template>
  <label>{{ label }}<input ref="entry" aria-label="Entry" /></label>
</template>
