<script setup lang="ts">
import { getCurrentInstance } from 'vue'

withDefaults(defineProps<{ unit?: 'C' | 'F' }>(), { unit: 'C' })
// The flaw: it asks whether the unit was passed, though the default was meant to answer that.
const instance = getCurrentInstance()
const isGiven = () => 'unit' in (instance?.vnode.props ?? {})
</script>

<template>
  <output>600 <abbr v-if="isGiven()">°{{ unit }}</abbr></output>
</template>
