<script setup lang="ts">
import { computed } from 'vue'

const props = withDefaults(
  defineProps<{
    /** What the firing is called. */
    label: string
    /** The scale that the target is read in. */
    unit?: 'C' | 'F'
    /** A locked dial cannot be turned. */
    locked?: boolean
    /** Degrees that one press adds or takes. */
    step?: number
  }>(),
  { unit: 'C', step: 10 },
)
/** Degrees that the kiln climbs to. */
const target = defineModel<number>('target', { required: true })
const emit = defineEmits<{ fire: [firing: { target: number; unit: 'C' | 'F' }] }>()

const HOTTEST = 1300
const reading = computed(() => `${target.value} °${props.unit}`)

function turn(degrees: number) {
  if (props.locked) return
  const next = Math.min(HOTTEST, Math.max(0, target.value + degrees))
  if (next === target.value) return
  target.value = next
  emit('fire', { target: next, unit: props.unit })
}
function typed(event: Event) {
  const next = Number((event.target as HTMLInputElement).value)
  if (!props.locked && Number.isFinite(next)) target.value = Math.min(HOTTEST, Math.max(0, next))
}

defineExpose({ nudge: turn, reset: () => turn(-target.value), reading })
</script>

<template>
  <div class="kiln-dial" :class="{ locked }">
    <label v-if="label" class="label">{{ label }}</label>
    <button type="button" :disabled="locked" @click="turn(-step)">Lower</button>
    <input type="number" aria-label="Target" :value="target" :disabled="locked" @input="typed" />
    <button type="button" :disabled="locked" @click="turn(step)">Raise</button>
    <output class="reading">{{ reading }}</output>
  </div>
</template>

<style scoped>
.kiln-dial {
  display: inline-flex;
  gap: 0.5rem;
}
.locked {
  opacity: 0.6;
}
</style>
