// The flaw: a row is known by its place, not by its piece.
export default function RewrittenLedger({ pieces }: { pieces: string[] }) {
  return <ul>{pieces.map((piece, index) => <li key={index}><button type="button" aria-label={`Remove ${piece}`}>{piece}</button></li>)}</ul>
}
