<script lang="ts">
  let { glaze = $bindable() }: { glaze: string } = $props()
  // The flaw: the field holds a copy, so what the parent sets later never shows.
  let text = $state(glaze)
  function edit(event: Event & { currentTarget: HTMLInputElement }) {
    text = event.currentTarget.value
    glaze = text
  }
</script>

<label>Glaze <input value={text} oninput={edit} /></label>
