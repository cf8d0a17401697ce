<script lang="ts">
  let { shelf }: { shelf: number } = $props()
  let note = $state('Asking')
  $effect(() => {
    // The flaw: it may be another shelf by the time that the reply is there.
    fetch(`/api/shelves/${shelf}/note`).then((reply) => reply.json()).then(({ text }) => (note = text))
  })
</script>

<strong>{note}</strong>
