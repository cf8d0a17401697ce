import { useState } from 'preact/hooks'

export default function ChanceBadge({ name }: { name: string }) {
  // The flaw: what it shows is left to chance.
  const [hue] = useState(() => Math.floor(Math.random() * 360))
  return <span class="badge" data-hue={hue}>{name}</span>
}
