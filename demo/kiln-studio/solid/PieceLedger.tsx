import { createSignal, For, Show } from 'solid-js'

interface PieceLedgerProps {
  entries: { id: number; name: string; glaze: string }[]
  onRemoved?: (id: number) => void
}

export default function PieceLedger(props: PieceLedgerProps) {
  const [problem, setProblem] = createSignal('')

  async function remove(id: number) {
    setProblem('')
    const reply = await fetch(`/api/pieces/${id}`, { method: 'DELETE' }).catch(() => null)
    if (reply?.ok) props.onRemoved?.(id)
    else setProblem('It is still on the shelf')
  }

  return (
    <section class="piece-ledger" aria-label="Pieces">
      <Show when={props.entries.length > 0} fallback={<p class="empty">No pieces yet</p>}>
        <ol>
          <For each={props.entries}>
            {(piece) => (
              <li>
                <span class="name">{piece.name}</span> <span class="glaze">{piece.glaze}</span>
                <button type="button" aria-label={`Remove ${piece.name}`} onClick={() => remove(piece.id)}>×</button>
              </li>
            )}
          </For>
        </ol>
      </Show>
      <Show when={problem()}><p role="alert">{problem()}</p></Show>
    </section>
  )
}
