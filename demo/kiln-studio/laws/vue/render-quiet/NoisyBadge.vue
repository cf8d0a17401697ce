<script setup lang="ts">
const props = defineProps<{ cone: number }>()
// The flaw: a leftover that tells every developer something, each time.
if (props.cone < 1) console.warn('rendering a badge below the first cone')
</script>

<template>
  <span class="badge">Cone {{ cone }}</span>
</template>
