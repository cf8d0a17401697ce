<script lang="ts">
  let { finish }: { finish: 'gloss' | 'satin' | 'matte' } = $props()
  // The flaw: the table has no entry for a finish that is declared.
  const angles: Record<string, { shine: number }> = { gloss: { shine: 90 }, satin: { shine: 40 } }
</script>

<span class="badge">{finish}: {angles[finish].shine}</span>
