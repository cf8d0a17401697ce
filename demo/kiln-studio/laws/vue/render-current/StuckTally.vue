<script setup lang="ts">
defineProps<{ kiln: string }>()
// The flaw: a plain variable, of whose changes nobody hears.
let firings = 0
const fire = () => { firings += 1 }
</script>

<template>
  <p>{{ kiln }}: {{ firings }} firings <button type="button" @click="fire">Fire</button></p>
</template>
