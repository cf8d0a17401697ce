<script lang="ts">
  let { piece }: { piece: string } = $props()
  let count = $state(0)
</script>

<!-- The flaw: the button hangs on the count, so each press takes it off the page and puts another there. -->
{#key count}
  <button type="button" aria-label="One more {piece}" onclick={() => count++}>One more</button>
{/key}
<output>{count}</output>
