<script lang="ts">
  let { label }: { label: string } = $props()
  // The flaw: the label is copied once.
  const shown = label
</script>

<strong>{shown}</strong>
