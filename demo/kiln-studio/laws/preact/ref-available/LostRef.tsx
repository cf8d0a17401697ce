import type { Ref } from 'preact'
import { useImperativeHandle, useRef } from 'preact/hooks'

interface Handle {
  field: HTMLInputElement | null
}

export default function LostRef({ label, ref }: { label: string; ref?: Ref<Handle> }) {
  const field = useRef<HTMLInputElement>(null)
  // The flaw: the field is looked up before it is given to the element, and nobody gives it.
  useImperativeHandle(ref, () => ({ field: field.current }), [])
  return <label>{label}<input aria-label="Entry" /></label>
}
