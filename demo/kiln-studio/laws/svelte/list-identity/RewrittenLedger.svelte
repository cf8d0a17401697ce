<script lang="ts">
  let { pieces }: { pieces: string[] } = $props()
</script>

<ul>
  <!-- The flaw: a row is known by its place, not by its piece. -->
  {#each pieces as piece}
    <li><button type="button" aria-label="Remove {piece}">{piece}</button></li>
  {/each}
</ul>
