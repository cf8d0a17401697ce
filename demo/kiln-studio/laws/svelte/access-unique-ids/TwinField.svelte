<script lang="ts">
  let { label }: { label: string } = $props()
</script>

<!-- The flaw: a second field on the page has the same id. -->
<div><label for="glaze-field">{label}</label><input id="glaze-field" aria-label="Glaze" /></div>
