<script lang="ts">
  interface Props {
    /** What the firing is called. */
    label: string
    /** Degrees that the kiln climbs to. */
    target: number
    /** The scale that the target is read in. */
    unit?: 'C' | 'F'
    /** A locked dial cannot be turned. */
    locked?: boolean
    /** Degrees that one press adds or takes. */
    step?: number
    onfire?: (firing: { target: number; unit: 'C' | 'F' }) => void
  }
  let { label, target = $bindable(), unit = 'C', locked = false, step = 10, onfire }: Props = $props()

  const HOTTEST = 1300
  const reading = $derived(`${target} °${unit}`)

  export function nudge(degrees: number) {
    if (locked) return
    const next = Math.min(HOTTEST, Math.max(0, target + degrees))
    if (next === target) return
    target = next
    onfire?.({ target: next, unit })
  }
  export function reset() {
    nudge(-target)
  }
  export { reading }

  function typed(event: Event & { currentTarget: HTMLInputElement }) {
    const next = Number(event.currentTarget.value)
    if (!locked && Number.isFinite(next)) target = Math.min(HOTTEST, Math.max(0, next))
  }
</script>

<div class={['kiln-dial', { locked }]}>
  {#if label}<label class="label">{label}</label>{/if}
  <button type="button" disabled={locked} onclick={() => nudge(-step)}>Lower</button>
  <input type="number" aria-label="Target" value={target} disabled={locked} oninput={typed} />
  <button type="button" disabled={locked} onclick={() => nudge(step)}>Raise</button>
  <output class="reading">{reading}</output>
</div>

<style>
  .kiln-dial {
    display: inline-flex;
    gap: 0.5rem;
  }
  .locked {
    opacity: 0.6;
  }
</style>
