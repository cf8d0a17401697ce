<script setup lang="ts">
const props = defineProps<{ open: boolean }>()
const emit = defineEmits<{ 'update:open': [open: boolean] }>()
// The flaw: half a second later it takes back what it said.
const press = () => {
  const was = props.open
  emit('update:open', !was)
  setTimeout(() => emit('update:open', was), 500)
}
</script>

<template>
  <button type="button" role="switch" :aria-checked="open" @click="press">Vent</button>
</template>
