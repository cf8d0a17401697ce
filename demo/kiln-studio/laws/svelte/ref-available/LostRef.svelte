<script lang="ts">
  let { label }: { label: string } = $props()
  // The flaw: no element is bound to it.
  const field: HTMLInputElement | undefined = undefined
  export { field }
</script>

<label>{label}<input aria-label="Entry" /></label>
