import type { ComponentChildren } from 'preact'

interface ShelfCardProps {
  title?: string
  /** How many pieces the shelf holds. */
  capacity?: number
  /** How many stand on it. */
  count?: number
  heading?: ComponentChildren
  children?: ComponentChildren
  footer?: (shelf: { count: number; room: number }) => ComponentChildren
}

export default function ShelfCard({ title = 'Shelf', capacity = 3, count = 0, heading, children, footer }: ShelfCardProps) {
  const room = Math.max(0, capacity - count)
  return (
    <section class="shelf-card" aria-label={title}>
      <header class="heading">{heading ?? title}</header>
      <div class="pieces">{children ?? <p class="empty">Nothing on this shelf yet</p>}</div>
      <footer class="footer">{footer ? footer({ count, room }) : `${count} of ${capacity}`}</footer>
    </section>
  )
}
