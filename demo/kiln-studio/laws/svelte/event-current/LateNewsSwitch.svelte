<script lang="ts">
  let { open = $bindable(), ontoggle }: { open: boolean; ontoggle?: (open: boolean) => void } = $props()

  function press() {
    const was = open
    open = !was
    // The flaw: the news of the toggle is of yesterday.
    ontoggle?.(was)
  }
</script>

<button type="button" role="switch" aria-checked={open} onclick={press}>Vent</button>
