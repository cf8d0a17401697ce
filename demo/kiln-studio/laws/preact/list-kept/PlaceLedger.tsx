import { useState } from 'preact/hooks'

// The flaw: what is open is known by its place, not by its piece.
export default function PlaceLedger({ pieces }: { pieces: string[] }) {
  const [open, setOpen] = useState(-1)
  return (
    <ul>
      {pieces.map((piece, place) => (
        <li key={piece}>
          <button type="button" onClick={() => setOpen(open === place ? -1 : place)}>Glaze of {piece}</button>
          {open === place && <span>unknown</span>}
        </li>
      ))}
    </ul>
  )
}
