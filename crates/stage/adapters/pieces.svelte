<!-- The nodes of a slot's content, see content.js of the stage: what a Svelte parent would have written there. -->
<script>
  let { nodes, scope } = $props();
  /** Tells where an element of the content stands. */
  const seen = (element, node) => node.seen?.(element);
</script>

{#snippet piece(node)}
  {#if node.text}{node.text(scope)}{:else if node.component}
    {@const It = node.component}
    {#if node.children.length}<It {...node.attributes(scope)}>{@render pieces(node.children)}</It>{:else}<It {...node.attributes(scope)} />{/if}
  {:else}<svelte:element this={node.tag} use:seen={node} {...node.attributes(scope)}>{@render pieces(node.children)}</svelte:element>{/if}
{/snippet}
{#snippet pieces(list)}{#each list as node}{@render piece(node)}{/each}{/snippet}
{#key nodes}{@render pieces(nodes)}{/key}
