<script setup lang="ts">
import { ref, watch } from 'vue'

interface Firing {
  day: string
  peak: number
}
const props = defineProps<{
  /** Which kiln; none while it is not known yet. */
  kiln?: number | null
}>()
const emit = defineEmits<{ loaded: [count: number] }>()

const state = ref<'idle' | 'loading' | 'failed' | 'there'>('idle')
const firings = ref<Firing[]>([])

async function load() {
  const kiln = props.kiln
  if (kiln == null) {
    state.value = 'idle'
    return
  }
  state.value = 'loading'
  try {
    const reply = await fetch(`/api/kilns/${kiln}/firings`)
    if (!reply.ok) throw new Error(String(reply.status))
    const rows: Firing[] = await reply.json()
    // An answer that is late is not for the kiln that is shown now.
    if (kiln !== props.kiln) return
    firings.value = rows
    state.value = 'there'
    emit('loaded', rows.length)
  } catch {
    if (kiln === props.kiln) state.value = 'failed'
  }
}
watch(() => props.kiln, load, { immediate: true })
</script>

<template>
  <section class="firing-log" aria-label="Firings" :aria-busy="state === 'loading'">
    <p v-if="state === 'idle'">No kiln chosen</p>
    <p v-else-if="state === 'loading'">Loading</p>
    <p v-else-if="state === 'failed'" role="alert">The log could not be read <button @click="load">Again</button></p>
    <p v-else-if="firings.length === 0">No firings yet</p>
    <ul v-else><li v-for="f in firings" :key="f.day">{{ f.day }}: {{ f.peak }} °C</li></ul>
  </section>
</template>
