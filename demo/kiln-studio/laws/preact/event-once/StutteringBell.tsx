interface StutteringBellProps {
  kiln: string
  onRing?: (kiln: string) => void
}

export default function StutteringBell({ kiln, onRing }: StutteringBellProps) {
  const ring = () => {
    // The flaw: one press rings twice.
    onRing?.(kiln)
    onRing?.(kiln)
  }
  return <button type="button" aria-label={`Ring ${kiln}`} onClick={ring}>Ring</button>
}
