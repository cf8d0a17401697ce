import { children, Show, type JSX } from 'solid-js'

export default function WaitingCard(props: { heading: string; children?: JSX.Element }) {
  const pieces = children(() => props.children)
  // The flaw: the words for an empty shelf stay when it is filled.
  return (
    <section>
      <h3>{props.heading}</h3>
      {pieces() ?? 'Nothing here yet'}
      <Show when={pieces()}><p>Nothing here yet</p></Show>
    </section>
  )
}
