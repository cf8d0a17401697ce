import { useMemo, useSyncExternalStore } from 'react'

/** A store of its own for each switch. */
function makeStore(start: string) {
  let tone = start
  const listeners = new Set<() => void>()
  return {
    subscribe(listener: () => void) {
      listeners.add(listener)
      return () => listeners.delete(listener)
    },
    read: () => tone,
    turn() {
      tone = tone === 'dark' ? 'light' : 'dark'
      listeners.forEach((listener) => listener())
      return tone
    },
  }
}

export default function ToneSwitch({ start = 'light', onTone }: { start?: 'light' | 'dark'; onTone?: (tone: string) => void }) {
  const store = useMemo(() => makeStore(start), [])
  const tone = useSyncExternalStore(store.subscribe, store.read)
  return (
    <div className="tone-switch">
      <button type="button" aria-pressed={tone === 'dark'} onClick={() => onTone?.(store.turn())}>
        Dark
      </button>
      <output>{tone}</output>
    </div>
  )
}
