<script setup lang="ts">
const props = defineProps<{ label: string; disabled?: boolean }>()
const open = defineModel<boolean>('open', { default: false })

function toggle() {
  if (!props.disabled) open.value = !open.value
}
</script>

<template>
  <button type="button" role="switch" class="vent-switch" :aria-checked="open" :disabled="disabled" @click="toggle">
    {{ label }} <span class="state">{{ open ? 'open' : 'shut' }}</span>
  </button>
</template>
