<script lang="ts">
  import { onDestroy, untrack } from 'svelte'

  let { seconds, auto = false, ondone }: { seconds: number; auto?: boolean; ondone?: () => void } = $props()

  let left = $derived(seconds)
  let timer: ReturnType<typeof setInterval> | undefined

  export function stop() {
    clearInterval(timer)
    timer = undefined
  }
  function end() {
    stop()
    ondone?.()
  }
  export function start() {
    if (timer || left === 0) return
    timer = setInterval(() => {
      left -= 1
      if (left <= 0) end()
    }, 1000)
  }
  $effect(() => {
    if (seconds <= 0 && timer) end()
  })
  if (untrack(() => auto)) start()
  onDestroy(stop)
</script>

<time role="timer" class="firing-timer">{Math.floor(left / 60)}:{String(left % 60).padStart(2, '0')}</time>
