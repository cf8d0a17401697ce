<script setup lang="ts">
import GlazeBadge from '../../../vue/GlazeBadge.vue'

defineProps<{ glaze: string }>()
</script>

<!-- The flaw: the badge declares `finish`. -->
<template><p><GlazeBadge :name="glaze" finnish="matte" /></p></template>
