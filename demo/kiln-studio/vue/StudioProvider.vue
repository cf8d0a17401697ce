<script setup lang="ts">
import { computed, provide } from 'vue'

const props = withDefaults(defineProps<{ theme?: 'day' | 'night'; unit?: 'C' | 'F' }>(), { theme: 'day', unit: 'C' })
provide('studio', computed(() => ({ theme: props.theme, unit: props.unit })))
</script>

<template><slot /></template>
