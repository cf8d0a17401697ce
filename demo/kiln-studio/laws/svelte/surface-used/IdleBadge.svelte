<script lang="ts">
  // The flaw: nothing makes anything of the cone.
  let { glaze, cone }: { glaze: string; cone?: number } = $props()
</script>

<strong>{glaze}</strong>
