<script setup lang="ts">
defineProps<{ label: string }>()
</script>

<template>
  <!-- The flaw: a second field on the page has the same id. -->
  <div><label for="glaze-field">{{ label }}</label><input id="glaze-field" aria-label="Glaze" /></div>
</template>
