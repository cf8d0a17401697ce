import { createEffect, on } from 'solid-js'

export default function EchoSwitch(props: { open: boolean; onOpenChange?: (open: boolean) => void }) {
  let own: boolean | undefined
  // The flaw: what the parent sets is told to the parent.
  createEffect(on(() => props.open, (open) => open !== own && props.onOpenChange?.(open), { defer: true }))
  const press = () => {
    own = !props.open
    props.onOpenChange?.(own)
  }
  return <button type="button" role="switch" aria-checked={props.open} onClick={press}>Vent</button>
}
