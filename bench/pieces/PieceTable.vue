<script>
export default {
  name: 'PieceTable',
  props: {
    pieces: { type: Array, required: true },
    selected: { type: Array, default: () => [] },
    sortBy: { type: String, default: 'name', validator: (v) => ['name', 'weight'].includes(v) },
    descending: Boolean,
    dense: Boolean
  },
  emits: ['update:selected', 'update:descending', 'open'],
  computed: {
    rows() {
      const by = this.sortBy
      const sorted = [...this.pieces].sort((a, b) => (a[by] > b[by] ? 1 : a[by] < b[by] ? -1 : 0))
      return this.descending ? sorted.reverse() : sorted
    },
    total() {
      return this.pieces.reduce((sum, p) => sum + (p.weight || 0), 0)
    },
    allSelected() {
      return this.pieces.length > 0 && this.pieces.every((p) => this.selected.includes(p.id))
    }
  },
  methods: {
    toggle(id) {
      const next = this.selected.includes(id) ? this.selected.filter((s) => s !== id) : [...this.selected, id]
      this.$emit('update:selected', next)
    },
    toggleAll() {
      this.$emit('update:selected', this.allSelected ? [] : this.pieces.map((p) => p.id))
    }
  }
}
</script>

<template>
  <table :class="{ dense }">
    <caption><slot name="caption">{{ pieces.length }} pieces, {{ total }} g</slot></caption>
    <thead>
      <tr>
        <th><input type="checkbox" aria-label="Select all" :checked="allSelected" @change="toggleAll" /></th>
        <th :aria-sort="descending ? 'descending' : 'ascending'">
          <button type="button" @click="$emit('update:descending', !descending)">{{ sortBy }}</button>
        </th>
        <th>Actions</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="piece in rows" :key="piece.id" :class="{ chosen: selected.includes(piece.id) }">
        <td><input type="checkbox" :aria-label="`Select ${piece.name}`" :checked="selected.includes(piece.id)" @change="toggle(piece.id)" /></td>
        <td>{{ piece.name }}</td>
        <td><button type="button" :aria-label="`Open ${piece.name}`" @click="$emit('open', piece.id)">Open</button></td>
      </tr>
      <tr v-if="!rows.length"><td colspan="3">Nothing on the shelf</td></tr>
    </tbody>
  </table>
</template>
