<script lang="ts">
  let { label, disabled = false, onflip }: { label: string; disabled?: boolean; onflip?: () => void } = $props()
</script>

<!-- The flaw: it says that it is disabled and acts all the same. -->
<div role="button" tabindex="0" aria-label={label || 'Flip'} aria-disabled={disabled} onclick={onflip} onkeydown={(event) => event.key === 'Enter' && onflip?.()}>{label}</div>
