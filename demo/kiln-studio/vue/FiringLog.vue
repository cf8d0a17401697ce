<script setup lang="ts">
import { onBeforeUnmount, ref, watch } from 'vue'

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

let underWay: AbortController | undefined
onBeforeUnmount(() => underWay?.abort())
async function load() {
  const kiln = props.kiln
  // An answer that is late is not for the kiln that is shown now.
  underWay?.abort()
  if (kiln == null) {
    state.value = 'idle'
    return
  }
  state.value = 'loading'
  try {
    const { signal } = (underWay = new AbortController())
    const reply = await fetch(`/api/kilns/${kiln}/firings`, { signal })
    if (!reply.ok) throw new Error(String(reply.status))
    const rows: Firing[] = await reply.json()
    if (signal.aborted) return
    firings.value = rows
    state.value = 'there'
    emit('loaded', rows.length)
  } catch (error) {
    if ((error as Error).name !== 'AbortError') state.value = 'failed'
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
