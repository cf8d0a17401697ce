<script lang="ts" module>
  export type Finish = 'gloss' | 'satin' | 'matte'
</script>

<script lang="ts">
  import type { Snippet } from 'svelte'

  interface Props {
    name: string
    finish?: Finish
    /** Orton cone, such as 6 or 10. */
    cone?: number
    foodSafe?: boolean
    icon?: Snippet
  }
  let { name, finish = 'gloss', cone, foodSafe = false, icon }: Props = $props()
</script>

<span class="glaze-badge finish-{finish}">
  {#if icon}<span class="icon" aria-hidden="true">{@render icon()}</span>{/if}
  <span class="name">{name}</span>
  {#if cone !== undefined}<small class="cone">cone {cone}</small>{/if}
  {#if foodSafe}<span class="safe" title="safe for food">✓ food</span>{/if}
</span>

<style>
  .glaze-badge {
    border: 1px solid currentcolor;
    border-radius: 1em;
    padding: 0 0.6em;
  }
  .finish-matte {
    filter: saturate(0.6);
  }
</style>
