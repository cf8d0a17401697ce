<script lang="ts">
  let { rows }: { rows?: string[] } = $props()
  // The flaw: whether there is anything to show is decided once.
  const isEmpty = rows === undefined
</script>

{#if isEmpty || !rows}
  <p>No firings yet</p>
{:else}
  <ul>{#each rows as row (row)}<li>{row}</li>{/each}</ul>
{/if}
