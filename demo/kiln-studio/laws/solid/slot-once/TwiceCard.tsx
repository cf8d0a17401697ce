import { Show, type JSX } from 'solid-js'

// The flaw: framed, it shows its pieces in the margin too.
export default function TwiceCard(props: { framed?: boolean; children?: JSX.Element }) {
  return <section><Show when={props.framed}><aside>{props.children}</aside></Show><div>{props.children}</div></section>
}
