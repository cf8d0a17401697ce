<script lang="ts">
  import { createEventDispatcher } from 'svelte'

  export let pieces: number
  export let most: number | undefined = undefined
  export let locked = false
  const dispatch = createEventDispatcher<{ full: void }>()

  // A default counts once in this form: what is passed no more is nothing then.
  $: limit = most ?? 12
  $: room = Math.max(0, limit - pieces)
  function add() {
    if (locked || room === 0) return
    const last = room === 1
    pieces += 1
    if (last) dispatch('full')
  }
</script>

<section class="piece-count">
  <h3>{pieces} of {limit}</h3>
  <button type="button" disabled={locked || room === 0} on:click={add}>Add a piece</button>
  {#if room === 0}<p role="status">The shelf is full</p>{/if}
  <slot>Nothing more to say</slot>
</section>
