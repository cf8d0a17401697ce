<script lang="ts">
  interface Props {
    entries: { id: number; name: string; glaze: string }[]
    onremoved?: (id: number) => void
  }
  let { entries, onremoved }: Props = $props()
  let problem = $state('')

  async function remove(id: number) {
    problem = ''
    const reply = await fetch(`/api/pieces/${id}`, { method: 'DELETE' }).catch(() => null)
    if (reply?.ok) onremoved?.(id)
    else problem = 'It is still on the shelf'
  }
</script>

<section class="piece-ledger" aria-label="Pieces">
  {#if entries.length === 0}
    <p class="empty">No pieces yet</p>
  {:else}
    <ol>
      {#each entries as piece (piece.id)}
        <li>
          <span class="name">{piece.name}</span> <span class="glaze">{piece.glaze}</span>
          <button type="button" aria-label="Remove {piece.name}" onclick={() => remove(piece.id)}>×</button>
        </li>
      {/each}
    </ol>
  {/if}
  {#if problem}<p role="alert">{problem}</p>{/if}
</section>
