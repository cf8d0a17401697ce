<script setup lang="ts">
import { computed, inject, type Ref } from 'vue'

const props = defineProps<{ kiln: string; celsius: number }>()
const studio = inject<Ref<{ theme: string; unit: string }>>('studio')
const reading = computed(() => {
  if (!studio) throw new Error('a KilnSign stands in a StudioProvider')
  return studio.value.unit === 'F' ? Math.round(props.celsius * 1.8 + 32) : props.celsius
})
</script>

<template>
  <figure class="kiln-sign" :class="studio?.theme"><figcaption>{{ kiln }}</figcaption><output>{{ reading }} °{{ studio?.unit }}</output><slot /></figure>
</template>
