export default function LoyalBell(props: { kiln: string; onRing?: () => void }) {
  // The flaw: the callback is read once, when the component is made.
  const ring = props.onRing
  return <button type="button" aria-label={`Ring ${props.kiln}`} onClick={() => ring?.()}>Ring</button>
}
