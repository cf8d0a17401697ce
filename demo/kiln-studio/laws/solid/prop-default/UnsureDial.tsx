import { mergeProps, Show } from 'solid-js'

export default function UnsureDial(given: { unit?: 'C' | 'F' }) {
  const props = mergeProps({ unit: 'C' as const }, given)
  // The flaw: it asks whether the unit was passed, though the default was meant to answer that.
  return <output>600 <Show when={given.unit}><abbr>°{props.unit}</abbr></Show></output>
}
