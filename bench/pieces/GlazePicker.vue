<script setup lang="ts">
import { computed, nextTick, onBeforeUnmount, onMounted, ref, watch } from 'vue'

interface Glaze {
  code: string
  name: string
  cone: number
  soldOut?: boolean
}

const props = withDefaults(
  defineProps<{ glazes: Glaze[]; label: string; placeholder?: string; clearable?: boolean; disabled?: boolean; limit?: number }>(),
  { placeholder: 'Choose a glaze', limit: 20 }
)
const emit = defineEmits<{ pick: [glaze: Glaze]; clear: []; search: [text: string] }>()
const model = defineModel<string | null>({ default: null })

const open = ref(false)
const text = ref('')
const root = ref<HTMLElement>()
const field = ref<HTMLInputElement>()

const chosen = computed(() => props.glazes.find((g) => g.code === model.value))
const matching = computed(() => {
  const wanted = text.value.trim().toLowerCase()
  return props.glazes.filter((g) => g.name.toLowerCase().includes(wanted)).slice(0, props.limit)
})

function pick(glaze: Glaze) {
  if (glaze.soldOut || props.disabled) return
  model.value = glaze.code
  emit('pick', glaze)
  close()
}

function close() {
  open.value = false
  text.value = ''
}

async function toggle() {
  if (props.disabled) return
  open.value = !open.value
  await nextTick()
  if (open.value) field.value?.focus()
}

function clear() {
  model.value = null
  emit('clear')
}

function outside(event: MouseEvent) {
  if (!root.value?.contains(event.target as Node)) close()
}

watch(text, (value) => emit('search', value))
onMounted(() => document.addEventListener('click', outside))
onBeforeUnmount(() => document.removeEventListener('click', outside))
defineExpose({ close })
</script>

<template>
  <div ref="root" class="picker" :class="{ 'picker--open': open }" @keydown.esc="close">
    <button type="button" :aria-label="label" :aria-expanded="open" aria-haspopup="listbox" :disabled="disabled" @click="toggle">
      {{ chosen ? `${chosen.name} (cone ${chosen.cone})` : placeholder }}
    </button>
    <button v-if="clearable && chosen" type="button" aria-label="Clear" :disabled="disabled" @click="clear">×</button>
    <div v-if="open" class="picker__panel">
      <input ref="field" v-model="text" type="search" aria-label="Search glazes" />
      <ul role="listbox" :aria-label="label">
        <li
          v-for="glaze in matching"
          :key="glaze.code"
          role="option"
          tabindex="0"
          :aria-selected="glaze.code === model"
          :aria-disabled="glaze.soldOut ? 'true' : undefined"
          @click="pick(glaze)"
          @keydown.enter="pick(glaze)"
          @keydown.space.prevent="pick(glaze)"
        >
          <slot name="glaze" :glaze="glaze">{{ glaze.name }}</slot>
        </li>
      </ul>
      <p v-if="matching.length === 0"><slot name="none">No glaze matches</slot></p>
    </div>
  </div>
</template>

<style scoped>
.picker {
  position: relative;
}
.picker__panel {
  position: absolute;
}
</style>
