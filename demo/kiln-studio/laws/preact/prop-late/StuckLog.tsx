import { useState } from 'preact/hooks'

export default function StuckLog({ rows }: { rows?: string[] }) {
  // The flaw: whether there is anything to show is decided once.
  const [isEmpty] = useState(rows === undefined)
  if (isEmpty || !rows) return <p>No firings yet</p>
  return <ul>{rows.map((row) => <li key={row}>{row}</li>)}</ul>
}
