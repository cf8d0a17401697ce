<script setup lang="ts">
import { ref } from 'vue'

defineProps<{
  /** What lies in it. */
  tools: string
}>()
const open = ref(false)

function turn() {
  open.value = !open.value
}
</script>

<template>
  <!-- A drawer that a press, Enter or Space opens and shuts. -->
  <div class="tool-drawer">
    <div role="button" tabindex="0" :aria-expanded="open" @click="turn" @keydown.enter.prevent="turn" @keydown.space.prevent="turn">Tools</div>
    <p v-if="open">In it: {{ tools }}</p>
  </div>
</template>
