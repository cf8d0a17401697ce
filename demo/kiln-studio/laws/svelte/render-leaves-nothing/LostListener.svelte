<script lang="ts">
  import { onMount } from 'svelte'

  let { label }: { label: string } = $props()
  let wide = $state(false)
  // The flaw: nobody takes the listener off again.
  onMount(() => {
    window.addEventListener('resize', () => (wide = window.innerWidth > 2000))
  })
</script>

<p class:wide>{label}</p>
