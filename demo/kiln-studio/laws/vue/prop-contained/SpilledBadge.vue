<script setup lang="ts">
const props = defineProps<{ glaze: string }>()
</script>

<template>
  <!-- The flaw: all props land on the element. -->
  <span class="badge" v-bind="props">{{ glaze }}</span>
</template>
