<script setup lang="ts">
defineProps<{ glaze: string }>()
const emit = defineEmits<{ pick: [glaze: string] }>()
</script>

<template>
  <!-- The flaw: it is called a button and takes the focus, and no key works it. -->
  <div role="button" tabindex="0" :aria-label="`Pick ${glaze}`" @click="emit('pick', glaze)">{{ glaze }}</div>
</template>
