<script lang="ts">
  let { glaze, onpick }: { glaze: string; onpick?: (glaze: string) => void } = $props()
</script>

<!-- The flaw: it is called a button and takes the focus, and no key works it. -->
<!-- svelte-ignore a11y_click_events_have_key_events -->
<div role="button" tabindex="0" aria-label="Pick {glaze}" onclick={() => onpick?.(glaze)}>{glaze}</div>
