<script setup lang="ts">
defineProps<{ piece: string }>()
defineEmits<{ taken: [piece: string] }>()
</script>

<template>
  <p>{{ piece }}
    <button type="button" @click="$emit('taken', piece)">Take</button>
    <!-- The flaw: an event that nobody declared. -->
    <button type="button" @click="($emit as Function)('returned', piece)">Return</button>
  </p>
</template>
