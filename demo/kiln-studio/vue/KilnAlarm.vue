<script setup lang="ts">
import { onMounted, ref, watch } from 'vue'

const props = defineProps<{ ringing?: boolean; kiln: string }>()
const emit = defineEmits<{ seen: [] }>()

const button = ref<HTMLButtonElement>()
const reach = () => button.value?.focus()
onMounted(reach)
watch(() => props.ringing, reach, { flush: 'post' })
</script>

<template>
  <div v-if="ringing" role="alertdialog" aria-modal="true" :aria-label="`${kiln} is too hot`">
    <button ref="button" type="button" @click="emit('seen')">Seen</button>
  </div>
</template>
