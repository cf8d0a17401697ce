<script setup lang="ts">
import { reactive } from 'vue'

const props = defineProps<{ room: number }>()
// The flaw: what the slot hands over is counted once.
const told = reactive({ room: props.room })
</script>

<template>
  <section>{{ room }} left <slot :room="told.room" /></section>
</template>
