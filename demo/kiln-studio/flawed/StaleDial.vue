<script setup lang="ts">
import { ref } from 'vue'

const props = withDefaults(defineProps<{ label: string; target?: number; unit?: 'C' | 'F' }>(), { target: 600, unit: 'C' })
// The flaw: the label is copied once, so the parent's changes never reach it.
const shown = ref(props.label)
</script>

<template>
  <div class="stale-dial">
    <strong class="label">{{ shown }}</strong>
    <output class="reading">{{ target }} °{{ unit }}</output>
  </div>
</template>
