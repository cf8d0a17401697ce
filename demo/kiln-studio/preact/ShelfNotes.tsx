import { useEffect, useState } from 'preact/hooks'
import { GlazeBadge } from './GlazeBadge'

interface Piece {
  id: string
  name: string
  glaze: string
}

interface Props {
  shelf: number
  pieces: Piece[]
  onTake?: (id: string) => void
}

function Row({ piece, onTake }: { piece: Piece; onTake?: (id: string) => void }) {
  const [open, setOpen] = useState(false)
  return (
    <li>
      <button type="button" aria-expanded={open} onClick={() => setOpen(!open)}>
        {piece.name}
      </button>
      {open && <GlazeBadge name={piece.glaze} finish="matte" />}
      <button type="button" onClick={() => onTake?.(piece.id)}>
        Take {piece.name} down
      </button>
    </li>
  )
}

export function ShelfNotes({ shelf, pieces, onTake }: Props) {
  const [note, setNote] = useState('Asking')
  useEffect(() => {
    // A reply that comes late is not of the shelf that is shown by then.
    let current = true
    setNote('Asking')
    fetch(`/api/shelves/${shelf}/note`)
      .then((reply) => reply.json())
      .then(({ text }) => current && setNote(text))
      .catch(() => current && setNote('Nobody knows'))
    return () => {
      current = false
    }
  }, [shelf])
  return (
    <section aria-label="Shelf">
      <p aria-label="Note">{note}</p>
      <ul>
        {pieces.map((piece) => (
          <Row key={piece.id} piece={piece} onTake={onTake} />
        ))}
      </ul>
    </section>
  )
}
