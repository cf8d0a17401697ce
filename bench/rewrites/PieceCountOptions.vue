<script lang="ts">
import { defineComponent } from 'vue'

export default defineComponent({
  props: { pieces: { type: Number, required: true }, most: { type: Number, default: 12 }, locked: Boolean },
  emits: { 'update:pieces': (pieces: number) => typeof pieces === 'number', full: () => true },
  computed: {
    room(): number {
      return Math.max(0, this.most - this.pieces)
    },
  },
  methods: {
    add(this: any) {
      if (this.locked || this.room === 0) return
      this.$emit('update:pieces', this.pieces + 1)
      if (this.room === 1) this.$emit('full')
    },
  },
})
</script>

<template>
  <section class="piece-count">
    <h3>{{ pieces }} of {{ most }}</h3>
    <button type="button" :disabled="locked || room === 0" @click="add">Add a piece</button>
    <p v-if="room === 0" role="status">The shelf is full</p>
    <slot>Nothing more to say</slot>
  </section>
</template>
