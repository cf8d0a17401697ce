<script setup lang="ts">
defineProps<{ entries: { id: number; name: string; glaze: string }[] }>()
const emit = defineEmits<{ remove: [id: number] }>()
</script>

<template>
  <section class="piece-ledger" aria-label="Pieces">
    <p v-if="entries.length === 0" class="empty">No pieces yet</p>
    <ol v-else>
      <li v-for="piece in entries" :key="piece.id">
        <span class="name">{{ piece.name }}</span> <span class="glaze">{{ piece.glaze }}</span>
        <button type="button" :aria-label="`Remove ${piece.name}`" @click="emit('remove', piece.id)">×</button>
      </li>
    </ol>
  </section>
</template>
