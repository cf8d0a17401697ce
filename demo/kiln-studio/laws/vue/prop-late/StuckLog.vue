<script setup lang="ts">
const props = defineProps<{ rows?: string[] }>()
// The flaw: whether there is anything to show is decided once.
const isEmpty = props.rows === undefined
</script>

<template>
  <p v-if="isEmpty || !rows">No firings yet</p>
  <ul v-else><li v-for="row in rows" :key="row">{{ row }}</li></ul>
</template>
