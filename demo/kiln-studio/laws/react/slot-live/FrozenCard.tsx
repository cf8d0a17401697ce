import { type ReactNode, useState } from 'react'

export default function FrozenCard({ children }: { children?: ReactNode }) {
  // The flaw: the first content is kept.
  const [first] = useState(children)
  return <section>{first}</section>
}
