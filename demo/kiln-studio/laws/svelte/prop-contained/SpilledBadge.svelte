<script lang="ts">
  let props: { glaze: string } = $props()
</script>

<!-- The flaw: all props land on the element. -->
<span class="badge" {...props}>{props.glaze}</span>
