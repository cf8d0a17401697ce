<script lang="ts">
  let { open = $bindable() }: { open: boolean } = $props()
  let own = open
  // The flaw: what the parent sets is written back to the parent.
  $effect(() => {
    if (open !== own) open = Boolean(open)
    own = open
  })
  function press() {
    own = !open
    open = own
  }
</script>

<button type="button" role="switch" aria-checked={open} onclick={press}>Vent</button>
