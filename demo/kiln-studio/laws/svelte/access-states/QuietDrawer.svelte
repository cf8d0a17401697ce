<script lang="ts">
  let { tools }: { tools: string } = $props()
  let open = $state(false)
</script>

<!-- The flaw: the button says for ever that the drawer is shut. -->
<button type="button" aria-expanded="false" onclick={() => (open = !open)}>Tools</button>
{#if open}<p>In it: {tools}</p>{/if}
