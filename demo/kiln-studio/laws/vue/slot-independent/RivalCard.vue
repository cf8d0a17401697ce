<script setup lang="ts">
defineProps<{ framed?: boolean }>()
</script>

<template>
  <section :class="{ framed }">
    <header><slot name="heading" /></header>
    <!-- The flaw: there is a footer only where there is no heading. -->
    <footer v-if="!$slots.heading"><slot name="footer" /></footer>
  </section>
</template>
