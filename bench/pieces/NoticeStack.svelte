<script>
  import { createEventDispatcher, onDestroy, onMount } from 'svelte'

  /** @type {{ id: number, text: string, level?: 'info' | 'alarm' }[]} */
  export let notices = []
  /** @type {number} */
  export let limit = 3
  /** @type {boolean} */
  export let closable = true
  /** @type {number} Seconds until the first goes by itself; 0 keeps it. */
  export let leaveAfter = 0

  const dispatch = createEventDispatcher()
  let timer
  let folded = true

  $: shown = folded ? notices.slice(0, limit) : notices
  $: hidden = notices.length - shown.length

  function dismiss(id) {
    notices = notices.filter((n) => n.id !== id)
    dispatch('dismiss', id)
  }

  onMount(() => {
    if (leaveAfter > 0) {
      timer = setInterval(() => {
        if (notices.length > 0) dismiss(notices[0].id)
      }, leaveAfter * 1000)
    }
  })
  onDestroy(() => clearInterval(timer))
</script>

<section aria-label="Notices">
  <slot name="title"><h2>Notices</h2></slot>
  <ul>
    {#each shown as notice (notice.id)}
      <li class={notice.level ?? 'info'} role={notice.level === 'alarm' ? 'alert' : undefined}>
        <slot {notice}>{notice.text}</slot>
        {#if closable}
          <button type="button" aria-label={`Dismiss ${notice.text}`} on:click={() => dismiss(notice.id)}>×</button>
        {/if}
      </li>
    {:else}
      <li><slot name="empty">All quiet</slot></li>
    {/each}
  </ul>
  {#if hidden > 0}
    <button type="button" aria-expanded={!folded} on:click={() => (folded = false)}>{hidden} more</button>
  {/if}
</section>
