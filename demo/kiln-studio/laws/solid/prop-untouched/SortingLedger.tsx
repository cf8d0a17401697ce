import { For } from 'solid-js'

// The flaw: `sort` sorts the parent's own list.
export default function SortingLedger(props: { pieces: string[] }) {
  return <ul><For each={props.pieces.sort()}>{(piece) => <li>{piece}</li>}</For></ul>
}
