<script lang="ts">
  let { kiln, onring }: { kiln: string; onring?: (kiln: string) => void } = $props()

  function ring() {
    // The flaw: one press rings twice.
    onring?.(kiln)
    onring?.(kiln)
  }
</script>

<button type="button" aria-label="Ring {kiln}" onclick={ring}>Ring</button>
