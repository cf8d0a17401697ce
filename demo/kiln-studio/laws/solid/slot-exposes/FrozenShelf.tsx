import type { JSX } from 'solid-js'

export default function FrozenShelf(props: { room: number; children?: (told: { room: number }) => JSX.Element }) {
  // The flaw: what is handed over is counted once.
  const told = { room: props.room }
  return <section>{props.room} left {props.children?.(told)}</section>
}
