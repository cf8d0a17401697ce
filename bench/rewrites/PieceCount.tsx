import { type ReactNode } from 'react'

interface PieceCountProps {
  pieces: number
  most?: number
  locked?: boolean
  onPiecesChange?: (pieces: number) => void
  onFull?: () => void
  children?: ReactNode
}

export default function PieceCount({ pieces, most = 12, locked = false, onPiecesChange, onFull, children }: PieceCountProps) {
  const room = Math.max(0, most - pieces)
  const add = () => {
    if (locked || room === 0) return
    onPiecesChange?.(pieces + 1)
    if (room === 1) onFull?.()
  }
  return (
    <section className="piece-count">
      <h3>
        {pieces} of {most}
      </h3>
      <button type="button" disabled={locked || room === 0} onClick={add}>
        Add a piece
      </button>
      {room === 0 && <p role="status">The shelf is full</p>}
      {children ?? 'Nothing more to say'}
    </section>
  )
}
