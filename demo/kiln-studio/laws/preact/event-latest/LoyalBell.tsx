import { useCallback } from 'preact/hooks'

interface LoyalBellProps {
  kiln: string
  onRing?: () => void
}

export default function LoyalBell({ kiln, onRing }: LoyalBellProps) {
  // The flaw: nothing is named that the callback depends on, so the first one is kept for ever.
  const ring = useCallback(() => onRing?.(), [])
  return <button type="button" aria-label={`Ring ${kiln}`} onClick={ring}>Ring</button>
}
