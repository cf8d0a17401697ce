<script lang="ts">
  import type { Snippet } from 'svelte'

  interface Props {
    title?: string
    /** How many pieces the shelf holds. */
    capacity?: number
    /** How many stand on it. */
    count?: number
    heading?: Snippet
    children?: Snippet
    footer?: Snippet<[{ count: number; room: number }]>
  }
  let { title = 'Shelf', capacity = 3, count = 0, heading, children, footer }: Props = $props()
  const room = $derived(Math.max(0, capacity - count))
</script>

<section class="shelf-card" aria-label={title}>
  <header class="heading">{#if heading}{@render heading()}{:else}{title}{/if}</header>
  <div class="pieces">
    {#if children}{@render children()}{:else}<p class="empty">Nothing on this shelf yet</p>{/if}
  </div>
  <footer class="footer">{#if footer}{@render footer({ count, room })}{:else}{count} of {capacity}{/if}</footer>
</section>
