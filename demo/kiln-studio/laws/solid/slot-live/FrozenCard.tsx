import type { JSX } from 'solid-js'

export default function FrozenCard(props: { children?: JSX.Element }) {
  // The flaw: the first content is kept.
  const first = props.children
  return <section>{first}</section>
}
