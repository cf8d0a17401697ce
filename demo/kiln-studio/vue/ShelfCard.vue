<script setup lang="ts">
import { computed } from 'vue'

const props = withDefaults(
  defineProps<{
    title?: string
    /** How many pieces the shelf holds. */
    capacity?: number
    /** How many stand on it. */
    count?: number
  }>(),
  { title: 'Shelf', capacity: 3, count: 0 },
)
const room = computed(() => Math.max(0, props.capacity - props.count))
</script>

<template>
  <section class="shelf-card" :aria-label="title">
    <header class="heading"><slot name="heading">{{ title }}</slot></header>
    <div class="pieces"><slot><p class="empty">Nothing on this shelf yet</p></slot></div>
    <footer class="footer"><slot name="footer" :count="count" :room="room">{{ count }} of {{ capacity }}</slot></footer>
  </section>
</template>
