import { createEffect, Show } from 'solid-js'

export function KilnAlarm(props: { ringing?: boolean; kiln: string; onSeen?: () => void }) {
  let button: HTMLButtonElement | undefined
  createEffect(() => props.ringing && button?.focus())
  return (
    <Show when={props.ringing}>
      <div role="alertdialog" aria-modal="true" aria-label={`${props.kiln} is too hot`}>
        <button ref={button} type="button" onClick={() => props.onSeen?.()}>
          Seen
        </button>
      </div>
    </Show>
  )
}
