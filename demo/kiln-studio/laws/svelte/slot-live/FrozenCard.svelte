<script lang="ts">
  import type { Snippet } from 'svelte'

  let { framed = false, children }: { framed?: boolean; children?: Snippet } = $props()
  // The flaw: the first content is kept.
  const first = children
</script>

<section class:framed>{@render first?.()}</section>
