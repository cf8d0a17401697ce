import type { ComponentChildren } from 'preact'
import { useState } from 'preact/hooks'

export default function FrozenCard({ children }: { children?: ComponentChildren }) {
  // The flaw: the first content is kept.
  const [first] = useState(children)
  return <section>{first}</section>
}
