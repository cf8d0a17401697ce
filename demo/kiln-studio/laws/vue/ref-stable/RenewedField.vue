<script setup lang="ts">
import { ref } from 'vue'

defineProps<{ label: string }>()
defineSlots<{ default(): unknown }>()
const field = ref<HTMLInputElement | null>(null)
let renderings = 0
// The flaw: every rendering makes the field anew.
const turn = () => ++renderings
defineExpose({ field })
</script>

<template>
  <div><label>{{ label }}<input ref="field" :key="turn()" aria-label="Entry" /></label><slot /></div>
</template>
