<script lang="ts">
  import { untrack } from 'svelte'

  let { kiln, onring }: { kiln: string; onring?: () => void } = $props()
  // The flaw: the callback is read once, when the component is made.
  const ring = untrack(() => onring)
</script>

<button type="button" aria-label="Ring {kiln}" onclick={() => ring?.()}>Ring</button>
