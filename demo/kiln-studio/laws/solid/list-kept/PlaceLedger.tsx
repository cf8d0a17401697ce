import { createSignal, For, Show } from 'solid-js'

// The flaw: what is open is known by its place, not by its piece.
export default function PlaceLedger(props: { pieces: string[] }) {
  const [open, setOpen] = createSignal(-1)
  return (
    <ul>
      <For each={props.pieces}>
        {(piece, place) => (
          <li>
            <button type="button" onClick={() => setOpen(open() === place() ? -1 : place())}>Glaze of {piece}</button>
            <Show when={open() === place()}><span>unknown</span></Show>
          </li>
        )}
      </For>
    </ul>
  )
}
