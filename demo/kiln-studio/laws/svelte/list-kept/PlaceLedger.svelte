<script lang="ts">
  let { pieces }: { pieces: string[] } = $props()
  // The flaw: what is open is known by its place, not by its piece.
  let open = $state(-1)
</script>

<ul>
  {#each pieces as piece, place (piece)}
    <li>
      <button type="button" onclick={() => (open = open === place ? -1 : place)}>Glaze of {piece}</button>
      {#if open === place}<span>unknown</span>{/if}
    </li>
  {/each}
</ul>
