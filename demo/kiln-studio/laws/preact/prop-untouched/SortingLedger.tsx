// The flaw: `sort` sorts the parent's own list.
export default function SortingLedger({ pieces }: { pieces: string[] }) {
  return <ul>{pieces.sort().map((piece) => <li key={piece}>{piece}</li>)}</ul>
}
