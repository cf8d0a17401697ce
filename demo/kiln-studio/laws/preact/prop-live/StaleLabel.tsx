import { useState } from 'preact/hooks'

export default function StaleLabel({ label }: { label: string }) {
  // The flaw: the label is copied once.
  const [shown] = useState(label)
  return <strong>{shown}</strong>
}
