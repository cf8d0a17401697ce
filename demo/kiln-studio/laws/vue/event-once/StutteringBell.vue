<script setup lang="ts">
const props = defineProps<{ kiln: string }>()
const emit = defineEmits<{ ring: [kiln: string] }>()

function ring() {
  // The flaw: one press rings twice.
  emit('ring', props.kiln)
  emit('ring', props.kiln)
}
</script>

<template>
  <button type="button" :aria-label="`Ring ${kiln}`" @click="ring">Ring</button>
</template>
