<script setup lang="ts">
defineProps<{ glaze: string }>()
defineEmits<{ remove: [] }>()
</script>

<template>
  <p>{{ glaze }}
    <!-- The flaw: a picture says what the button does, and nothing else. -->
    <button type="button" class="remove" @click="$emit('remove')"><svg viewBox="0 0 8 8"><path d="M1 1 7 7M7 1 1 7" /></svg></button>
  </p>
</template>
