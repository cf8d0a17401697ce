<script setup lang="ts">
import { ref } from 'vue'

defineProps<{ pieces: string[] }>()
// The flaw: what is open is known by its place, not by its piece.
const open = ref(-1)
</script>

<template>
  <ul>
    <li v-for="(piece, place) in pieces" :key="piece">
      <button type="button" @click="open = open === place ? -1 : place">Glaze of {{ piece }}</button>
      <span v-if="open === place">unknown</span>
    </li>
  </ul>
</template>
