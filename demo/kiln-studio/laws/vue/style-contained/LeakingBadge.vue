<script setup lang="ts">
defineProps<{ name: string }>()
</script>

<template>
  <span class="badge">{{ name }}</span>
</template>

<style scoped>
.badge { padding: 2px }
/* The flaw: the buttons of the whole page. */
:global(button) { color: brown }
</style>
