<script setup lang="ts">
defineProps<{ open?: boolean }>()
</script>

<template>
  <!-- The flaw: who cannot see it is not told that it is there. -->
  <div v-if="open" role="dialog" aria-modal="true" aria-label="Kiln too hot"><button type="button">Vent</button></div>
</template>
