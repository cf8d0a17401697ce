<script lang="ts">
  export let unit: 'C' | 'F' = 'C'
  // The flaw: it asks whether the unit was passed, though the default was meant to answer that.
  $: isGiven = 'unit' in $$props
</script>

<output>600 {#if isGiven}<abbr>°{unit}</abbr>{/if}</output>
