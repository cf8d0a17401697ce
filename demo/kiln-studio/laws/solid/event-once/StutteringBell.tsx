export default function StutteringBell(props: { kiln: string; onRing?: (kiln: string) => void }) {
  const ring = () => {
    // The flaw: one press rings twice.
    props.onRing?.(props.kiln)
    props.onRing?.(props.kiln)
  }
  return <button type="button" aria-label={`Ring ${props.kiln}`} onClick={ring}>Ring</button>
}
