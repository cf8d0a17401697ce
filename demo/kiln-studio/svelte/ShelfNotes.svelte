<script lang="ts">
  import GlazeBadge from './GlazeBadge.svelte'

  interface Piece {
    id: string
    name: string
    glaze: string
  }
  let { shelf, pieces, onTake }: { shelf: number; pieces: Piece[]; onTake?: (id: string) => void } = $props()

  let note = $state('Asking')
  let open: string[] = $state([])
  const toggle = (id: string) => (open = open.includes(id) ? open.filter((o) => o !== id) : [...open, id])

  $effect(() => {
    // A reply that comes late is not of the shelf that is shown by then.
    let current = true
    note = 'Asking'
    fetch(`/api/shelves/${shelf}/note`)
      .then((reply) => reply.json())
      .then(({ text }) => current && (note = text))
      .catch(() => current && (note = 'Nobody knows'))
    return () => {
      current = false
    }
  })
</script>

<section aria-label="Shelf">
  <p aria-label="Note">{note}</p>
  <ul>
    {#each pieces as piece (piece.id)}
      <li>
        <button type="button" aria-expanded={open.includes(piece.id)} onclick={() => toggle(piece.id)}>{piece.name}</button>
        {#if open.includes(piece.id)}<GlazeBadge name={piece.glaze} finish="matte" />{/if}
        <button type="button" onclick={() => onTake?.(piece.id)}>Take {piece.name} down</button>
      </li>
    {/each}
  </ul>
</section>
