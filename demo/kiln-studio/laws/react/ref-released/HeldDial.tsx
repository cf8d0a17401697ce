import { type RefObject, useEffect, useState } from 'react'

interface Handle {
  nudge(by: number): void
}

export default function HeldDial({ label, ref }: { label: string; ref?: RefObject<Handle | null> }) {
  const [target, setTarget] = useState(600)
  // The flaw: the ref is filled by hand, and nobody empties it.
  useEffect(() => {
    if (ref) ref.current = { nudge: (by) => setTarget((t) => t + by) }
  }, [])
  return <output aria-label={label}>{target}</output>
}
