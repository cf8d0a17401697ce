<script lang="ts">
  let { cone }: { cone: number } = $props()
  // The flaw: a leftover that tells every developer something, each time.
  $effect(() => {
    if (cone < 1) console.warn('rendering a badge below the first cone')
  })
</script>

<span class="badge">Cone {cone}</span>
