<script lang="ts">
  import type { Snippet } from 'svelte'

  interface Props {
    value?: number
    min?: number
    max?: number
    step?: number
    label: string
    disabled?: boolean
    unit?: string
    onchange?: (value: number) => void
    onlimit?: (edge: 'min' | 'max') => void
    hint?: Snippet<[{ left: number }]>
  }

  let { value = $bindable(5), min = 0, max = 10, step = 1, label, disabled = false, unit = '', onchange, onlimit, hint }: Props = $props()

  const id = $props.id()
  const left = $derived(max - value)
  const atMin = $derived(value <= min)
  const atMax = $derived(value >= max)

  function set(next: number) {
    if (disabled) return
    const held = Math.min(max, Math.max(min, next))
    if (held === value) return
    value = held
    onchange?.(held)
    if (held === min) onlimit?.('min')
    if (held === max) onlimit?.('max')
  }

  function keys(event: KeyboardEvent) {
    if (event.key === 'ArrowUp') set(value + step)
    else if (event.key === 'ArrowDown') set(value - step)
    else return
    event.preventDefault()
  }
</script>

<div class="stepper" class:full={atMax} role="group" aria-labelledby={id}>
  <span {id}>{label}</span>
  <button type="button" aria-label="Less" disabled={disabled || atMin} onclick={() => set(value - step)}>−</button>
  <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
  <span role="spinbutton" tabindex={disabled ? -1 : 0} aria-labelledby={id} aria-valuenow={value} aria-valuemin={min} aria-valuemax={max} aria-disabled={disabled} onkeydown={keys}>
    {value}{unit}
  </span>
  <button type="button" aria-label="More" disabled={disabled || atMax} onclick={() => set(value + step)}>+</button>
  {#if hint}
    <small>{@render hint({ left })}</small>
  {:else if atMax}
    <small>As hot as it gets</small>
  {/if}
</div>

<style>
  .full {
    color: firebrick;
  }
</style>
