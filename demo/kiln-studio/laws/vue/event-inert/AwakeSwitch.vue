<script setup lang="ts">
defineProps<{ label: string; disabled?: boolean }>()
const emit = defineEmits<{ flip: [] }>()
</script>

<template>
  <!-- The flaw: it says that it is disabled and acts all the same. -->
  <div role="button" tabindex="0" :aria-disabled="disabled" @click="emit('flip')" @keydown.enter="emit('flip')">{{ label }}<i v-if="label === ''" aria-label="Flip" role="img"></i></div>
</template>
