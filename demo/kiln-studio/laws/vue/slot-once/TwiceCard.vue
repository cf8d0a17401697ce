<script setup lang="ts">
defineProps<{ framed?: boolean }>()
</script>

<template>
  <!-- The flaw: framed, it shows its pieces in the margin too. -->
  <section><aside v-if="framed"><slot /></aside><div><slot /></div></section>
</template>
