<script setup lang="ts">
import { ref, watch } from 'vue'
import GlazeBadge from './GlazeBadge.vue'

interface Piece {
  id: string
  name: string
  glaze: string
}
const props = defineProps<{ shelf: number; pieces: Piece[] }>()
const emit = defineEmits<{ take: [id: string] }>()

const note = ref('Asking')
const open = ref<string[]>([])
const toggle = (id: string) => (open.value = open.value.includes(id) ? open.value.filter((o) => o !== id) : [...open.value, id])

watch(
  () => props.shelf,
  (shelf, _, onCleanup) => {
    // A reply that comes late is not of the shelf that is shown by then.
    let current = true
    onCleanup(() => (current = false))
    note.value = 'Asking'
    fetch(`/api/shelves/${shelf}/note`)
      .then((reply) => reply.json())
      .then(({ text }) => current && (note.value = text))
      .catch(() => current && (note.value = 'Nobody knows'))
  },
  { immediate: true },
)
</script>

<template>
  <section aria-label="Shelf">
    <p aria-label="Note">{{ note }}</p>
    <ul>
      <li v-for="piece in pieces" :key="piece.id">
        <button type="button" :aria-expanded="open.includes(piece.id)" @click="toggle(piece.id)">{{ piece.name }}</button>
        <GlazeBadge v-if="open.includes(piece.id)" :name="piece.glaze" finish="matte" />
        <button type="button" @click="emit('take', piece.id)">Take {{ piece.name }} down</button>
      </li>
    </ul>
  </section>
</template>
