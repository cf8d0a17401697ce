<script lang="ts">
  let { label, open = $bindable(false), disabled = false }: { label: string; open?: boolean; disabled?: boolean } = $props()
</script>

<button type="button" role="switch" class="vent-switch" aria-checked={open} {disabled} onclick={() => (open = !open)}>
  {label} <span class="state">{open ? 'open' : 'shut'}</span>
</button>
