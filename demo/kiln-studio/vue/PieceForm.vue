<script setup lang="ts">
import { ref } from 'vue'

export interface Piece {
  id: number
  name: string
  glaze: string
}
const emit = defineEmits<{ added: [piece: Piece] }>()

const name = ref('')
const glaze = ref('Tenmoku')
const problem = ref('')
const sending = ref(false)
const field = ref<HTMLInputElement | null>(null)
defineExpose({ field })

async function send() {
  problem.value = name.value.trim() ? '' : 'A piece needs a name'
  if (problem.value) return field.value?.focus()
  sending.value = true
  try {
    const reply = await fetch('/api/pieces', {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ name: name.value.trim(), glaze: glaze.value }),
    })
    if (!reply.ok) throw new Error(String(reply.status))
    emit('added', await reply.json())
    name.value = ''
  } catch {
    problem.value = 'The shelf could not be reached'
  } finally {
    sending.value = false
  }
}
</script>

<template>
  <form class="piece-form" aria-label="New piece" @submit.prevent="send">
    <label>Name <input ref="field" v-model="name" /></label>
    <label>Glaze
      <select v-model="glaze"><option>Tenmoku</option><option>Celadon</option><option>Shino</option></select>
    </label>
    <button :disabled="sending">{{ sending ? 'Sending' : 'Add' }}</button>
    <p v-if="problem" role="alert">{{ problem }}</p>
  </form>
</template>
