import { useState } from 'react'

export default function ChanceBadge({ name }: { name: string }) {
  // The flaw: what it shows is left to chance.
  const [hue] = useState(() => Math.floor(Math.random() * 360))
  return <span className="badge" data-hue={hue}>{name}</span>
}
