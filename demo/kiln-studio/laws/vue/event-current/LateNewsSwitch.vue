<script setup lang="ts">
const open = defineModel<boolean>('open', { required: true })
const emit = defineEmits<{ toggle: [open: boolean] }>()

function press() {
  const was = open.value
  open.value = !was
  // The flaw: the news of the toggle is of yesterday.
  emit('toggle', was)
}
</script>

<template>
  <button type="button" role="switch" :aria-checked="open" @click="press">Vent</button>
</template>
