import { createEffect, createSignal } from 'solid-js'

export default function LateNote(props: { shelf: number }) {
  const [note, setNote] = createSignal('Asking')
  createEffect(() => {
    // The flaw: it may be another shelf by the time that the reply is there.
    fetch(`/api/shelves/${props.shelf}/note`).then((reply) => reply.json()).then(({ text }) => setNote(text))
  })
  return <strong>{note()}</strong>
}
