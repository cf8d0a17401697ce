// The flaw: what is taken out of the props is what they held then.
export default function StaleLabel({ label }: { label: string }) {
  return <strong>{label}</strong>
}
