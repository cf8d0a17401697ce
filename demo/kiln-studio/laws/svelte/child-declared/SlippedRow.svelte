<script lang="ts">
  import GlazeBadge from '../../../svelte/GlazeBadge.svelte'

  let { glaze }: { glaze: string } = $props()
</script>

<!-- The flaw: the badge declares `finish`. -->
<p><GlazeBadge name={glaze} finnish="matte" /></p>
