<script setup lang="ts">
import { ref } from 'vue'

const props = defineProps<{ modelValue: string }>()
const emit = defineEmits<{ 'update:modelValue': [text: string] }>()
// The flaw: the field holds a copy, so what the parent sets later never shows.
const text = ref(props.modelValue)
const edit = (event: Event) => {
  text.value = (event.target as HTMLInputElement).value
  emit('update:modelValue', text.value)
}
</script>

<template>
  <label>Glaze <input :value="text" @input="edit" /></label>
</template>
