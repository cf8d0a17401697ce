<script setup lang="ts">
import { computed } from 'vue'

const props = withDefaults(defineProps<{ most?: number; locked?: boolean }>(), { most: 12 })
const pieces = defineModel<number>('pieces', { required: true })
const emit = defineEmits<{ full: [] }>()
const room = computed(() => (pieces.value < props.most ? props.most - pieces.value : 0))

function add() {
  if (props.locked || !room.value) return
  const last = room.value === 1
  pieces.value += 1
  if (last) emit('full')
}
</script>

<template>
  <section class="piece-count">
    <h3>{{ pieces }} of {{ props.most }}</h3>
    <button :disabled="props.locked || !room" type="button" @click="add()">Add a piece</button>
    <p v-if="!room" role="status">The shelf is full</p>
    <slot>Nothing more to say</slot>
  </section>
</template>
