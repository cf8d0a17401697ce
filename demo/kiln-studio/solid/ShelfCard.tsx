import { children, mergeProps, type JSX } from 'solid-js'

interface ShelfCardProps {
  title?: string
  /** How many pieces the shelf holds. */
  capacity?: number
  /** How many stand on it. */
  count?: number
  heading?: JSX.Element
  children?: JSX.Element
  footer?: (shelf: { count: number; room: number }) => JSX.Element
}

export default function ShelfCard(given: ShelfCardProps) {
  const props = mergeProps({ title: 'Shelf', capacity: 3, count: 0 }, given)
  const pieces = children(() => props.children)
  const room = () => Math.max(0, props.capacity - props.count)
  return (
    <section class="shelf-card" aria-label={props.title}>
      <header class="heading">{props.heading ?? props.title}</header>
      <div class="pieces">{pieces() ?? <p class="empty">Nothing on this shelf yet</p>}</div>
      <footer class="footer">{props.footer ? props.footer({ count: props.count, room: room() }) : `${props.count} of ${props.capacity}`}</footer>
    </section>
  )
}
