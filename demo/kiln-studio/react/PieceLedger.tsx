interface PieceLedgerProps {
  entries: { id: number; name: string; glaze: string }[]
  onRemove?: (id: number) => void
}

export default function PieceLedger({ entries, onRemove }: PieceLedgerProps) {
  return (
    <section className="piece-ledger" aria-label="Pieces">
      {entries.length === 0 ? (
        <p className="empty">No pieces yet</p>
      ) : (
        <ol>
          {entries.map((piece) => (
            <li key={piece.id}>
              <span className="name">{piece.name}</span> <span className="glaze">{piece.glaze}</span>
              <button type="button" aria-label={`Remove ${piece.name}`} onClick={() => onRemove?.(piece.id)}>×</button>
            </li>
          ))}
        </ol>
      )}
    </section>
  )
}
