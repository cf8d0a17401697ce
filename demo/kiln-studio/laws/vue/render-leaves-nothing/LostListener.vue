<script setup lang="ts">
import { onMounted, ref } from 'vue'

defineProps<{ label: string }>()
const wide = ref(false)
const look = () => { wide.value = window.innerWidth > 2000 }
// The flaw: nobody takes the listener off again.
onMounted(() => window.addEventListener('resize', look))
</script>

<template>
  <p :class="{ wide }">{{ label }}</p>
</template>
