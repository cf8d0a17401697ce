<script setup lang="ts">
// The flaw: nothing makes anything of the cone.
defineProps<{ glaze: string; cone?: number }>()
</script>

<template><strong>{{ glaze }}</strong></template>
