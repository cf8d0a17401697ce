<script setup lang="ts">
const props = defineProps<{ finish: 'gloss' | 'satin' | 'matte' }>()
// The flaw: the table has no entry for a finish that is declared.
const angles: Record<string, { shine: number }> = { gloss: { shine: 90 }, satin: { shine: 40 } }
</script>

<template>
  <span class="badge">{{ finish }}: {{ angles[props.finish].shine }}</span>
</template>
