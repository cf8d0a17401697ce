<script setup lang="ts">
import { onUnmounted, ref, watch } from 'vue'

const props = withDefaults(defineProps<{ seconds: number; auto?: boolean }>(), { auto: false })
const emit = defineEmits<{ done: [] }>()

const left = ref(props.seconds)
let timer: ReturnType<typeof setInterval> | undefined

function stop() {
  clearInterval(timer)
  timer = undefined
}
function end() {
  stop()
  emit('done')
}
function start() {
  if (timer || left.value === 0) return
  timer = setInterval(() => {
    left.value -= 1
    if (left.value <= 0) end()
  }, 1000)
}
watch(() => props.seconds, (seconds) => {
  left.value = seconds
  if (timer && seconds <= 0) end()
})
if (props.auto) start()
onUnmounted(stop)
defineExpose({ start, stop })
</script>

<template>
  <time role="timer" class="firing-timer">{{ Math.floor(left / 60) }}:{{ String(left % 60).padStart(2, '0') }}</time>
</template>
