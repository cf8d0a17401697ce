<script setup lang="ts">
defineProps<{ modelValue: string }>()
const emit = defineEmits<{ 'update:modelValue': [text: string] }>()
const tell = (event: Event) => emit('update:modelValue', (event.target as HTMLInputElement).value)
</script>

<template>
  <!-- The flaw: each key is told twice. -->
  <label>Glaze <input :value="modelValue" @input="tell" @keyup="tell" /></label>
</template>
