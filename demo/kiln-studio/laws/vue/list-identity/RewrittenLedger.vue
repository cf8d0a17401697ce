<script setup lang="ts">
defineProps<{ pieces: string[] }>()
</script>

<template>
  <ul>
    <!-- The flaw: a row is known by its place, not by its piece. -->
    <li v-for="(piece, index) in pieces" :key="index"><input :value="piece" :aria-label="`Note on ${piece}`" /></li>
  </ul>
</template>
