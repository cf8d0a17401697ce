import { createEffect, createSignal, onCleanup } from 'solid-js'

export default function LoopDial(props: { label: string }) {
  const [heat, setHeat] = createSignal(0)
  // The flaw: what the effect sets makes it run again.
  createEffect(() => {
    const next = (heat() + 1) % 7
    const timer = setTimeout(() => setHeat(next))
    onCleanup(() => clearTimeout(timer))
  })
  return <output aria-label={props.label}>{heat()}</output>
}
