<script lang="ts">
  let { glaze, onremove }: { glaze: string; onremove?: () => void } = $props()
</script>

<p>
  {glaze}
  <!-- The flaw: a picture says what the button does, and nothing else. -->
  <button type="button" class="remove" onclick={() => onremove?.()}><svg viewBox="0 0 8 8"><path d="M1 1 7 7M7 1 1 7" /></svg></button>
</p>
