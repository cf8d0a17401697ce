import { createEffect, on } from 'solid-js'

export default function JumpyPicker(props: { glaze: string; onPick?: (glaze: string) => void }) {
  // The flaw: another glaze of the parent's is told as if somebody had picked it.
  createEffect(on(() => props.glaze, (glaze) => props.onPick?.(glaze), { defer: true }))
  return <button type="button" aria-label={`Pick ${props.glaze}`} onClick={() => props.onPick?.(props.glaze)}>{props.glaze}</button>
}
