<script lang="ts">
  import type { Snippet } from 'svelte'
  import ShelfCard from './ShelfCard.svelte'

  interface Props {
    name: string
    bisque?: Snippet
    glaze?: Snippet
    note?: Snippet
  }
  let { name, bisque, glaze, note }: Props = $props()
</script>

<div class="kiln-floor" role="group" aria-label={name}>
  <ShelfCard title="Bisque shelf" children={bisque} heading={note} />
  <ShelfCard title="Glaze shelf" children={glaze} />
</div>
