<script lang="ts">
  import type { Snippet } from 'svelte'

  let { pieces = $bindable(), most = 12, locked = false, onfull, children }: {
    pieces: number; most?: number; locked?: boolean; onfull?: () => void; children?: Snippet
  } = $props()

  const room = $derived(Math.max(0, most - pieces))
  function add() {
    if (locked || room === 0) return
    const last = room === 1
    pieces += 1
    if (last) onfull?.()
  }
</script>

<section class="piece-count">
  <h3>{pieces} of {most}</h3>
  <button type="button" disabled={locked || room === 0} onclick={add}>Add a piece</button>
  {#if room === 0}<p role="status">The shelf is full</p>{/if}
  {#if children}{@render children()}{:else}Nothing more to say{/if}
</section>
