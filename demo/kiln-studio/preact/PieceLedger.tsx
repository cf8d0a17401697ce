import { useState } from 'preact/hooks'

interface PieceLedgerProps {
  entries: { id: number; name: string; glaze: string }[]
  onRemoved?: (id: number) => void
}

export default function PieceLedger({ entries, onRemoved }: PieceLedgerProps) {
  const [problem, setProblem] = useState('')

  async function remove(id: number) {
    setProblem('')
    const reply = await fetch(`/api/pieces/${id}`, { method: 'DELETE' }).catch(() => null)
    if (reply?.ok) onRemoved?.(id)
    else setProblem('It is still on the shelf')
  }

  return (
    <section class="piece-ledger" aria-label="Pieces">
      {entries.length === 0 ? (
        <p class="empty">No pieces yet</p>
      ) : (
        <ol>
          {entries.map((piece) => (
            <li key={piece.id}>
              <span class="name">{piece.name}</span> <span class="glaze">{piece.glaze}</span>
              <button type="button" aria-label={`Remove ${piece.name}`} onClick={() => remove(piece.id)}>×</button>
            </li>
          ))}
        </ol>
      )}
      {problem && <p role="alert">{problem}</p>}
    </section>
  )
}
