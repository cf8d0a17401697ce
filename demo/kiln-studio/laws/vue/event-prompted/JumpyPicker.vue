<script setup lang="ts">
import { watch } from 'vue'

const props = defineProps<{ glaze: string }>()
const emit = defineEmits<{ pick: [glaze: string] }>()

// The flaw: another glaze of the parent's is told as if somebody had picked it.
watch(() => props.glaze, (glaze) => emit('pick', glaze))
</script>

<template>
  <button type="button" :aria-label="`Pick ${glaze}`" @click="emit('pick', glaze)">{{ glaze }}</button>
</template>
