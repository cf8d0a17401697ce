<script lang="ts">
  import type { Snippet } from 'svelte'

  let { heading, children }: { heading: string; children?: Snippet } = $props()
</script>

<!-- The flaw: the words for an empty shelf stay when it is filled. -->
<section>
  <h3>{heading}</h3>
  {#if children}{@render children()}{:else}Nothing here yet{/if}
  {#if children}<p>Nothing here yet</p>{/if}
</section>
