<script setup lang="ts">
import { ref } from 'vue'

defineProps<{ entries: { id: number; name: string; glaze: string }[] }>()
const emit = defineEmits<{ removed: [id: number] }>()
const problem = ref('')

async function remove(id: number) {
  problem.value = ''
  const reply = await fetch(`/api/pieces/${id}`, { method: 'DELETE' }).catch(() => null)
  if (reply?.ok) emit('removed', id)
  else problem.value = 'It is still on the shelf'
}
</script>

<template>
  <section class="piece-ledger" aria-label="Pieces">
    <p v-if="entries.length === 0" class="empty">No pieces yet</p>
    <ol v-else>
      <li v-for="piece in entries" :key="piece.id">
        <span class="name">{{ piece.name }}</span> <span class="glaze">{{ piece.glaze }}</span>
        <button type="button" :aria-label="`Remove ${piece.name}`" @click="remove(piece.id)">×</button>
      </li>
    </ol>
    <p v-if="problem" role="alert">{{ problem }}</p>
  </section>
</template>
