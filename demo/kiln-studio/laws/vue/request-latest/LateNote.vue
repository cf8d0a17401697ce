<script setup lang="ts">
import { ref, watch } from 'vue'

const props = defineProps<{ shelf: number }>()
const note = ref('Asking')
watch(
  () => props.shelf,
  async (shelf) => {
    const reply = await fetch(`/api/shelves/${shelf}/note`)
    // The flaw: it may be another shelf by now.
    note.value = (await reply.json()).text
  },
  { immediate: true },
)
</script>

<template><strong>{{ note }}</strong></template>
