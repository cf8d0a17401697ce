<script lang="ts">
  let { glaze, cone }: { glaze: string; cone?: number } = $props()
</script>

<span class="badge">{glaze}, cone {cone ?? 'unknown'}</span>
