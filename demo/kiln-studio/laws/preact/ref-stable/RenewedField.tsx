import type { Ref } from 'preact'
import { useImperativeHandle, useRef } from 'preact/hooks'

interface Handle {
  readonly field: HTMLInputElement | null
}

export default function RenewedField({ label, ref }: { label: string; ref?: Ref<Handle> }) {
  const field = useRef<HTMLInputElement>(null)
  useImperativeHandle(ref, () => ({ get field() { return field.current } }), [])
  // The flaw: a component that is made while rendering is another one each time.
  const Field = () => <input ref={field} aria-label="Entry" />
  return <label>{label}<Field /></label>
}
