<script setup lang="ts">
import { watch } from 'vue'

const props = defineProps<{ modelValue: number }>()
const emit = defineEmits<{ 'update:modelValue': [target: number] }>()
let own: number | undefined
const edit = (event: Event) => {
  own = Number((event.target as HTMLInputElement).value)
  emit('update:modelValue', own)
}
// The flaw: what the parent sets is told to the parent.
watch(() => props.modelValue, (target) => { if (target !== own) emit('update:modelValue', target) })
</script>

<template>
  <label>Target <input type="number" :value="modelValue" @input="edit" /></label>
</template>
