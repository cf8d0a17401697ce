<script lang="ts">
  let { open = false }: { open?: boolean } = $props()
</script>

<!-- The flaw: who cannot see it is not told that it is there. -->
{#if open}<div role="dialog" aria-modal="true" aria-label="Kiln too hot" tabindex="-1"><button type="button">Vent</button></div>{/if}
