import { createSignal } from 'solid-js'

export default function DeafField(props: { glaze: string; onGlazeChange?: (glaze: string) => void }) {
  // The flaw: the field holds a copy, so what the parent sets later never shows.
  const [text, setText] = createSignal(props.glaze)
  const edit = (next: string) => {
    setText(next)
    props.onGlazeChange?.(next)
  }
  return <label>Glaze <input value={text()} onInput={(event) => edit(event.currentTarget.value)} /></label>
}
