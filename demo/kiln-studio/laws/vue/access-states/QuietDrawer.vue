<script setup lang="ts">
import { ref } from 'vue'

defineProps<{ tools: string }>()
const open = ref(false)
</script>

<template>
  <div>
    <!-- The flaw: the button says for ever that the drawer is shut. -->
    <button type="button" aria-expanded="false" @click="open = !open">Tools</button>
    <p v-if="open">In it: {{ tools }}</p>
  </div>
</template>
