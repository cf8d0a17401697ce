<script lang="ts">
  let { pieces }: { pieces: string[] } = $props()
</script>

<!-- The flaw: `sort` sorts the parent's own list. -->
<ul>{#each pieces.sort() as piece}<li>{piece}</li>{/each}</ul>
