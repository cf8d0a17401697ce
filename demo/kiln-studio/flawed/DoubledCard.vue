<script setup lang="ts">
defineProps<{ title: string; wide?: boolean; framed?: boolean }>()
</script>

<template>
  <section class="doubled-card" :class="{ framed }" :aria-label="title">
    <aside v-if="wide && framed" class="margin"><slot /></aside>
    <div class="pieces"><slot>Nothing on this shelf yet</slot></div>
  </section>
</template>
