import type { ReactNode } from 'react'

interface ShelfCardProps {
  title?: string
  /** How many pieces the shelf holds. */
  capacity?: number
  /** How many stand on it. */
  count?: number
  heading?: ReactNode
  children?: ReactNode
  footer?: (shelf: { count: number; room: number }) => ReactNode
}

export default function ShelfCard({ title = 'Shelf', capacity = 3, count = 0, heading, children, footer }: ShelfCardProps) {
  const room = Math.max(0, capacity - count)
  return (
    <section className="shelf-card" aria-label={title}>
      <header className="heading">{heading ?? title}</header>
      <div className="pieces">{children ?? <p className="empty">Nothing on this shelf yet</p>}</div>
      <footer className="footer">{footer ? footer({ count, room }) : `${count} of ${capacity}`}</footer>
    </section>
  )
}
