<script lang="ts">
  let { name }: { name: string } = $props()
</script>

<span class="badge">{name}</span>

<style>
  .badge {
    padding: 2px;
  }
  /* The flaw: the buttons of the whole page. */
  :global(button) {
    color: brown;
  }
</style>
