import { createEffect, createSignal, For, onCleanup, Show } from 'solid-js'
import { GlazeBadge } from './GlazeBadge'

interface Piece {
  id: string
  name: string
  glaze: string
}

export function ShelfNotes(props: { shelf: number; pieces: Piece[]; onTake?: (id: string) => void }) {
  const [note, setNote] = createSignal('Asking')
  const [open, setOpen] = createSignal<string[]>([])
  const toggle = (id: string) => setOpen((all) => (all.includes(id) ? all.filter((o) => o !== id) : [...all, id]))
  createEffect(() => {
    // A reply that comes late is not of the shelf that is shown by then.
    let current = true
    onCleanup(() => (current = false))
    setNote('Asking')
    fetch(`/api/shelves/${props.shelf}/note`)
      .then((reply) => reply.json())
      .then(({ text }) => current && setNote(text))
      .catch(() => current && setNote('Nobody knows'))
  })
  return (
    <section aria-label="Shelf">
      <p aria-label="Note">{note()}</p>
      <ul>
        <For each={props.pieces}>
          {(piece) => (
            <li>
              <button type="button" aria-expanded={open().includes(piece.id)} onClick={() => toggle(piece.id)}>
                {piece.name}
              </button>
              <Show when={open().includes(piece.id)}>
                <GlazeBadge name={piece.glaze} finish="matte" />
              </Show>
              <button type="button" onClick={() => props.onTake?.(piece.id)}>
                Take {piece.name} down
              </button>
            </li>
          )}
        </For>
      </ul>
    </section>
  )
}
