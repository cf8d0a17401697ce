import { Index } from 'solid-js'

// The flaw: a row is known by its place, not by its piece.
export default function RewrittenLedger(props: { pieces: string[] }) {
  return <ul><Index each={props.pieces}>{(piece) => <li><button type="button" aria-label={`Remove ${piece()}`}>{piece()}</button></li>}</Index></ul>
}
