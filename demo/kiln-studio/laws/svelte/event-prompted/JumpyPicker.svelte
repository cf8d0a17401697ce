<script lang="ts">
  import { untrack } from 'svelte'

  let { glaze, onpick }: { glaze: string; onpick?: (glaze: string) => void } = $props()
  let shown = untrack(() => glaze)

  // The flaw: another glaze of the parent's is told as if somebody had picked it.
  $effect(() => {
    const next = glaze
    untrack(() => {
      if (next !== shown) onpick?.(next)
      shown = next
    })
  })
</script>

<button type="button" aria-label="Pick {glaze}" onclick={() => onpick?.(glaze)}>{glaze}</button>
