<script lang="ts">
  let { open = $bindable() }: { open: boolean } = $props()
  // The flaw: half a second later it takes back what it said.
  function press() {
    const was = open
    open = !was
    setTimeout(() => (open = was), 500)
  }
</script>

<button type="button" role="switch" aria-checked={open} onclick={press}>Vent</button>
