import { useEffect, useRef } from 'react'

export function KilnAlarm({ ringing = false, kiln, onSeen }: { ringing?: boolean; kiln: string; onSeen?: () => void }) {
  const button = useRef<HTMLButtonElement>(null)
  useEffect(() => button.current?.focus(), [ringing])
  if (!ringing) return null
  return (
    <div role="alertdialog" aria-modal="true" aria-label={`${kiln} is too hot`}>
      <button ref={button} type="button" onClick={() => onSeen?.()}>
        Seen
      </button>
    </div>
  )
}
