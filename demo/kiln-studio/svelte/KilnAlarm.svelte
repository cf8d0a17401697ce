<script lang="ts">
  let { ringing = false, kiln, onSeen }: { ringing?: boolean; kiln: string; onSeen?: () => void } = $props()

  let button: HTMLButtonElement | undefined = $state()
  $effect(() => button?.focus())
</script>

{#if ringing}
  <div role="alertdialog" aria-modal="true" aria-label="{kiln} is too hot" tabindex="-1">
    <button bind:this={button} type="button" onclick={() => onSeen?.()}>Seen</button>
  </div>
{/if}
