import type { ComponentChildren } from 'preact'
import { useState } from 'preact/hooks'

export default function FrozenShelf({ room, children }: { room: number; children?: (told: { room: number }) => ComponentChildren }) {
  // The flaw: what is handed over is counted once.
  const [told] = useState({ room })
  return <section>{room} left {children?.(told)}</section>
}
