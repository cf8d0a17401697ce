<script lang="ts">
  let { target, onfire }: { target: number; onfire?: (target: number) => void } = $props()
</script>

<!-- The flaw: a text where a number is declared. -->
<p>{target} <button type="button" onclick={() => onfire?.(String(target) as any)}>Fire</button></p>
