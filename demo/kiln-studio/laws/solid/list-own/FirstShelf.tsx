import { For } from 'solid-js'

// The flaw: whichever is pressed, the first one is told of.
export default function FirstShelf(props: { pieces: string[]; onPick?: (piece: string) => void }) {
  return (
    <ul>
      <For each={props.pieces}>
        {(piece) => <li><button type="button" onClick={() => props.onPick?.(props.pieces[0])}>{piece}</button></li>}
      </For>
    </ul>
  )
}
