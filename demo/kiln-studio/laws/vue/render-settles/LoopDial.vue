<script setup lang="ts">
import { onBeforeUnmount, ref } from 'vue'

defineProps<{ label: string }>()
const heat = ref(0)
let isOn = true
// The flaw: each turn of the loop starts the next one.
const { port1, port2 } = new MessageChannel()
port1.onmessage = () => {
  heat.value = (heat.value + 1) % 7
  if (isOn) port2.postMessage(null)
}
port2.postMessage(null)
onBeforeUnmount(() => { isOn = false })
</script>

<template>
  <output :aria-label="label">{{ heat }}</output>
</template>
