<script setup lang="ts">
type Finish = 'gloss' | 'satin' | 'matte'

withDefaults(
  defineProps<{
    name: string
    finish?: Finish
    /** Orton cone, such as 6 or 10. */
    cone?: number
    foodSafe?: boolean
  }>(),
  { finish: 'gloss' },
)
defineSlots<{ icon?(): unknown }>()
</script>

<template>
  <span class="glaze-badge" :class="`finish-${finish}`">
    <span v-if="$slots.icon" class="icon" aria-hidden="true"><slot name="icon" /></span>
    <span class="name">{{ name }}</span>
    <small v-if="cone !== undefined" class="cone">cone {{ cone }}</small>
    <span v-if="foodSafe" class="safe" title="safe for food">✓ food</span>
  </span>
</template>

<style scoped>
.glaze-badge {
  border: 1px solid currentcolor;
  border-radius: 1em;
  padding: 0 0.6em;
}
.finish-matte {
  filter: saturate(0.6);
}
</style>
