<script lang="ts">
  let { pieces, onpick }: { pieces: string[]; onpick?: (piece: string) => void } = $props()
</script>

<ul>
  {#each pieces as piece (piece)}
    <!-- The flaw: whichever is pressed, the first one is told of. -->
    <li><button type="button" onclick={() => onpick?.(pieces[0])}>{piece}</button></li>
  {/each}
</ul>
