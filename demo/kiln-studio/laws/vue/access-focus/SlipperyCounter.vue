<script setup lang="ts">
import { ref } from 'vue'

defineProps<{ piece: string }>()
const count = ref(0)
</script>

<template>
  <div>
    <!-- The flaw: the button has the count for its key, so each press takes it off the page and puts another there. -->
    <button :key="count" type="button" :aria-label="`One more ${piece}`" @click="count++">One more</button>
    <output>{{ count }}</output>
  </div>
</template>
