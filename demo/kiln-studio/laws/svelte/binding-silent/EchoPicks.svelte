<script lang="ts">
  let { picked = $bindable() }: { picked: string[] } = $props()
  let own = picked
  // The flaw: what the parent sets is written back to the parent, as another list with the same in it.
  $effect(() => {
    if (picked !== own) picked = [...picked]
    own = picked
  })
  function pick(piece: string) {
    own = picked.includes(piece) ? picked.filter((it) => it !== piece) : [...picked, piece]
    picked = own
  }
</script>

{#each ['mug', 'bowl'] as piece (piece)}
  <label><input type="checkbox" checked={picked.includes(piece)} onchange={() => pick(piece)} /> {piece}</label>
{/each}
