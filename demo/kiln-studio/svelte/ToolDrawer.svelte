<script lang="ts">
  interface Props {
    /** What lies in it. */
    tools: string
  }

  let { tools }: Props = $props()
  let open = $state(false)

  function turn() {
    open = !open
  }

  function onkeydown(event: KeyboardEvent) {
    if (event.key !== 'Enter' && event.key !== ' ') return
    event.preventDefault()
    turn()
  }
</script>

<!-- A drawer that a press, Enter or Space opens and shuts. -->
<div class="tool-drawer">
  <div role="button" tabindex="0" aria-expanded={open} onclick={turn} {onkeydown}>Tools</div>
  {#if open}<p>In it: {tools}</p>{/if}
</div>
