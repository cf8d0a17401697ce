import { createSignal, onMount } from 'solid-js'

export default function LostListener(props: { label: string }) {
  const [wide, setWide] = createSignal(false)
  // The flaw: nobody takes the listener off again.
  onMount(() => window.addEventListener('resize', () => setWide(window.innerWidth > 2000)))
  return <p classList={{ wide: wide() }}>{props.label}</p>
}
