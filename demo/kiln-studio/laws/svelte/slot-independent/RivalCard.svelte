<script lang="ts">
  import type { Snippet } from 'svelte'

  let { framed = false, heading, footer }: { framed?: boolean; heading?: Snippet; footer?: Snippet } = $props()
</script>

<section class:framed>
  <header>{@render heading?.()}</header>
  <!-- The flaw: there is a footer only where there is no heading. -->
  {#if !heading}<footer>{@render footer?.()}</footer>{/if}
</section>
