<script setup lang="ts">
defineProps<{ heading: string }>()
</script>

<template>
  <!-- The flaw: the words for an empty shelf stay when it is filled. -->
  <section><h3>{{ heading }}</h3><slot>Nothing here yet</slot><p v-if="$slots.default">Nothing here yet</p></section>
</template>
