import { Show, createSignal } from 'solid-js'

// The flaw: the button says for ever that the drawer is shut.
export default function QuietDrawer(props: { tools: string }) {
  const [open, setOpen] = createSignal(false)
  return (
    <div>
      <button type="button" aria-expanded="false" onClick={() => setOpen(!open())}>Tools</button>
      <Show when={open()}><p>In it: {props.tools}</p></Show>
    </div>
  )
}
