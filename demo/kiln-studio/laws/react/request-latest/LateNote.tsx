import { useEffect, useState } from 'react'

export default function LateNote({ shelf }: { shelf: number }) {
  const [note, setNote] = useState('Asking')
  useEffect(() => {
    // The flaw: it may be another shelf by the time that the reply is there.
    fetch(`/api/shelves/${shelf}/note`).then((reply) => reply.json()).then(({ text }) => setNote(text))
  }, [shelf])
  return <strong>{note}</strong>
}
