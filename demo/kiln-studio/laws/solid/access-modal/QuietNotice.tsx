import { Show } from 'solid-js'

// The flaw: who cannot see it is not told that it is there.
export default function QuietNotice(props: { open?: boolean }) {
  return (
    <Show when={props.open}>
      <div role="dialog" aria-modal="true" aria-label="Kiln too hot"><button type="button">Vent</button></div>
    </Show>
  )
}
