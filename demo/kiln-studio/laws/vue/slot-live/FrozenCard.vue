<script setup lang="ts">
defineProps<{ framed?: boolean }>()
</script>

<template>
  <!-- The flaw: the content is rendered once and for all. -->
  <section :class="{ framed }"><div v-once><slot /></div></section>
</template>
