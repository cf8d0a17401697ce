<script setup lang="ts">
import ShelfCard from './ShelfCard.vue'

defineProps<{ name: string }>()
</script>

<template>
  <div class="kiln-floor" role="group" :aria-label="name">
    <ShelfCard title="Bisque shelf">
      <template v-if="$slots.bisque" #default><slot name="bisque" /></template>
      <template v-if="$slots.note" #heading><slot name="note" /></template>
    </ShelfCard>
    <ShelfCard title="Glaze shelf">
      <template v-if="$slots.glaze" #default><slot name="glaze" /></template>
    </ShelfCard>
  </div>
</template>
