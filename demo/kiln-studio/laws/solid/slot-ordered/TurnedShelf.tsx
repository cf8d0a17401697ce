import { children, type JSX } from 'solid-js'

export default function TurnedShelf(props: { children?: JSX.Element }) {
  const pieces = children(() => props.children)
  // The flaw: the last piece comes first.
  return <section>{pieces.toArray().reverse()}</section>
}
