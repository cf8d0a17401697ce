<script lang="ts">
  let { glaze = $bindable() }: { glaze: string } = $props()
</script>

<!-- The flaw: `value` without `bind:` shows the glaze and takes no edit. -->
<label>Glaze <input value={glaze} /></label>
