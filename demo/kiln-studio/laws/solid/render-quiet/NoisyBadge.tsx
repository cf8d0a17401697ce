import { createEffect } from 'solid-js'

export default function NoisyBadge(props: { cone: number }) {
  // The flaw: a leftover that tells every developer something, each time.
  createEffect(() => {
    if (props.cone < 1) console.warn('rendering a badge below the first cone')
  })
  return <span class="badge">Cone {props.cone}</span>
}
