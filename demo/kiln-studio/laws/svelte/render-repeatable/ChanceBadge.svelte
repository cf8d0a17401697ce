<script lang="ts">
  let { name }: { name: string } = $props()
  // The flaw: what it shows is left to chance.
  const hue = Math.floor(Math.random() * 360)
</script>

<span class="badge" data-hue={hue}>{name}</span>
