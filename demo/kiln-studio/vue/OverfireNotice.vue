<script setup lang="ts">
import { ref, watch } from 'vue'

const props = withDefaults(defineProps<{ reading: number; limit?: number }>(), { limit: 1280 })
const over = ref(0)
watch(() => props.reading, (reading) => { over.value = reading > props.limit ? over.value + 1 : 0 })
</script>

<template>
  <div class="overfire-notice"><p v-if="over >= 6" role="alert">The kiln is over its limit of {{ limit }} °C</p></div>
</template>
