import { mergeProps, Show } from 'solid-js'

export interface KilnDialProps {
  /** What the firing is called. */
  label: string
  /** Degrees that the kiln climbs to. */
  target: number
  onTargetChange?: (target: number) => void
  /** The scale that the target is read in. */
  unit?: 'C' | 'F'
  /** A locked dial cannot be turned. */
  locked?: boolean
  /** Degrees that one press adds or takes. */
  step?: number
  onFire?: (firing: { target: number; unit: 'C' | 'F' }) => void
  ref?: (dial: { nudge(degrees: number): void; reset(): void; readonly reading: string }) => void
}

const HOTTEST = 1300

export default function KilnDial(given: KilnDialProps) {
  const props = mergeProps({ unit: 'C' as const, step: 10 }, given)
  const reading = () => `${props.target} °${props.unit}`

  function turn(degrees: number) {
    if (props.locked) return
    const next = Math.min(HOTTEST, Math.max(0, props.target + degrees))
    if (next === props.target) return
    props.onTargetChange?.(next)
    props.onFire?.({ target: next, unit: props.unit })
  }
  function typed(field: HTMLInputElement) {
    const next = Number(field.value)
    if (!props.locked && Number.isFinite(next)) props.onTargetChange?.(Math.min(HOTTEST, Math.max(0, next)))
  }

  given.ref?.({
    nudge: turn,
    reset: () => turn(-props.target),
    get reading() {
      return reading()
    },
  })

  return (
    <div class="kiln-dial" classList={{ locked: props.locked }}>
      <Show when={props.label}>
        <label class="label">{props.label}</label>
      </Show>
      <button type="button" disabled={props.locked} onClick={() => turn(-props.step)}>
        Lower
      </button>
      <input type="number" aria-label="Target" value={props.target} disabled={props.locked} onInput={(event) => typed(event.currentTarget)} />
      <button type="button" disabled={props.locked} onClick={() => turn(props.step)}>
        Raise
      </button>
      <output class="reading">{reading()}</output>
    </div>
  )
}
