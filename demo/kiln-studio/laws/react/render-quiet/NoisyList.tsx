// The flaw: rows without a key.
export default function NoisyList({ pieces }: { pieces: string[] }) {
  return <ul>{pieces.map((piece) => <li>{piece}</li>)}</ul>
}
