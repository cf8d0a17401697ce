<script setup lang="ts">
import { onUpdated } from 'vue'

defineProps<{ heading: string }>()
defineSlots<{ default(): unknown }>()
const emit = defineEmits<{ moved: [] }>()
// The flaw: every rendering of the parent counts as a change.
onUpdated(() => emit('moved'))
</script>

<template>
  <section><h3>{{ heading }}</h3><slot /></section>
</template>
