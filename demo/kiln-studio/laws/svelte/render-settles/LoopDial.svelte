<script lang="ts">
  let { label }: { label: string } = $props()
  let heat = $state(0)
  // The flaw: what the effect sets makes it run again.
  $effect(() => {
    const next = (heat + 1) % 7
    const timer = setTimeout(() => (heat = next))
    return () => clearTimeout(timer)
  })
</script>

<output aria-label={label}>{heat}</output>
