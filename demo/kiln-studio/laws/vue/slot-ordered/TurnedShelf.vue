<script setup lang="ts">
import type { VNode } from 'vue'

defineProps<{ framed?: boolean }>()
const slots = defineSlots<{ default?(): VNode[] }>()
const Nodes = ({ nodes }: { nodes: VNode[] }) => nodes
Nodes.props = ['nodes']
// The flaw: the last piece comes first.
const turned = () => [...(slots.default?.() ?? [])].reverse()
</script>

<template>
  <section :class="{ framed }"><Nodes :nodes="turned()" /></section>
</template>
