import type { ReactNode } from 'react'

export default function WaitingCard({ heading, children }: { heading: string; children?: ReactNode }) {
  // The flaw: the words for an empty shelf stay when it is filled.
  return (
    <section>
      <h3>{heading}</h3>
      {children ?? 'Nothing here yet'}
      {children && <p>Nothing here yet</p>}
    </section>
  )
}
