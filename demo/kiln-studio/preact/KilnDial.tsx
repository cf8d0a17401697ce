import type { Ref } from 'preact'
import { useImperativeHandle } from 'preact/hooks'

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
  ref?: Ref<{ nudge(degrees: number): void; reset(): void; reading: string }>
}

const HOTTEST = 1300

export default function KilnDial({ label, target, onTargetChange, unit = 'C', locked = false, step = 10, onFire, ref }: KilnDialProps) {
  const reading = `${target} °${unit}`

  function turn(degrees: number) {
    if (locked) return
    const next = Math.min(HOTTEST, Math.max(0, target + degrees))
    if (next === target) return
    onTargetChange?.(next)
    onFire?.({ target: next, unit })
  }
  function typed(text: string) {
    const next = Number(text)
    if (!locked && Number.isFinite(next)) onTargetChange?.(Math.min(HOTTEST, Math.max(0, next)))
  }

  useImperativeHandle(ref, () => ({ nudge: turn, reset: () => turn(-target), reading }))

  return (
    <div class={locked ? 'kiln-dial locked' : 'kiln-dial'}>
      {label && <label class="label">{label}</label>}
      <button type="button" disabled={locked} onClick={() => turn(-step)}>
        Lower
      </button>
      <input type="number" aria-label="Target" value={target} disabled={locked} onInput={(e) => typed(e.target.value)} />
      <button type="button" disabled={locked} onClick={() => turn(step)}>
        Raise
      </button>
      <output class="reading">{reading}</output>
    </div>
  )
}
