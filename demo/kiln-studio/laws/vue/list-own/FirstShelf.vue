<script setup lang="ts">
const props = defineProps<{ pieces: string[] }>()
const emit = defineEmits<{ pick: [piece: string] }>()
// The flaw: whichever is pressed, the first one is told of.
const pick = () => emit('pick', props.pieces[0])
</script>

<template>
  <ul><li v-for="piece in pieces" :key="piece"><button type="button" @click="pick">{{ piece }}</button></li></ul>
</template>
