<script lang="ts">
  import type { Snippet } from 'svelte'

  let { framed = false, children }: { framed?: boolean; children?: Snippet } = $props()
</script>

<!-- The flaw: framed, it shows its pieces in the margin too. -->
<section>{#if framed}<aside>{@render children?.()}</aside>{/if}<div>{@render children?.()}</div></section>
