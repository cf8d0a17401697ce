<script setup lang="ts">
defineProps<{ name: string }>()
// The flaw: what it shows is left to chance.
const hue = Math.floor(Math.random() * 360)
</script>

<template>
  <span class="badge" :data-hue="hue">{{ name }}</span>
</template>
