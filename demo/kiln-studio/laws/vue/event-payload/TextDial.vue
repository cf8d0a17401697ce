<script setup lang="ts">
defineProps<{ target: number }>()
const emit = defineEmits<{ fire: [target: number] }>()
</script>

<template>
  <p>{{ target }}
    <!-- The flaw: a text where a number is declared. -->
    <button type="button" @click="emit('fire', String(target) as any)">Fire</button>
  </p>
</template>
