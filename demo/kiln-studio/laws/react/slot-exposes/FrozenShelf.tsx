import { type ReactNode, useState } from 'react'

export default function FrozenShelf({ room, children }: { room: number; children?: (told: { room: number }) => ReactNode }) {
  // The flaw: what is handed over is counted once.
  const [told] = useState({ room })
  return <section>{room} left {children?.(told)}</section>
}
