<script lang="ts">
  import type { Snippet } from 'svelte'

  let { room, children }: { room: number; children?: Snippet<[{ room: number }]> } = $props()
  // The flaw: what the snippet gets is counted once.
  const told = { room }
</script>

<section>{room} left {@render children?.(told)}</section>
