<script lang="ts">
  interface Firing {
    day: string
    peak: number
  }
  interface Props {
    /** Which kiln; none while it is not known yet. */
    kiln?: number | null
    onloaded?: (count: number) => void
  }
  let { kiln, onloaded }: Props = $props()

  let found = $state<'loading' | 'failed' | Firing[]>('loading')
  let tries = $state(0)

  async function load(signal: AbortSignal) {
    found = 'loading'
    try {
      const reply = await fetch(`/api/kilns/${kiln}/firings`, { signal })
      if (!reply.ok) throw new Error(String(reply.status))
      const rows: Firing[] = await reply.json()
      if (signal.aborted) return
      found = rows
      onloaded?.(rows.length)
    } catch {
      if (!signal.aborted) found = 'failed'
    }
  }
  $effect(() => {
    if (kiln == null) return
    tries
    // An answer that is late is not for the kiln that is shown now.
    const underWay = new AbortController()
    load(underWay.signal)
    return () => underWay.abort()
  })
</script>

<section class="firing-log" aria-label="Firings" aria-busy={kiln != null && found === 'loading'}>
  {#if kiln == null}
    <p>No kiln chosen</p>
  {:else if found === 'loading'}
    <p>Loading</p>
  {:else if found === 'failed'}
    <p role="alert">The log could not be read <button onclick={() => (tries += 1)}>Again</button></p>
  {:else if found.length === 0}
    <p>No firings yet</p>
  {:else}
    <ul>{#each found as firing (firing.day)}<li>{firing.day}: {firing.peak} °C</li>{/each}</ul>
  {/if}
</section>
