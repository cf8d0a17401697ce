import { useEffect, useState } from 'react'

interface Firing {
  day: string
  peak: number
}
interface FiringLogProps {
  /** Which kiln; none while it is not known yet. */
  kiln?: number | null
  onLoaded?: (count: number) => void
}

export default function FiringLog({ kiln, onLoaded }: FiringLogProps) {
  const [state, setState] = useState<'idle' | 'loading' | 'failed' | 'there'>(kiln == null ? 'idle' : 'loading')
  const [firings, setFirings] = useState<Firing[]>([])
  const [tries, setTries] = useState(0)

  useEffect(() => {
    if (kiln == null) return setState('idle')
    // An answer that is late is not for the kiln that is shown now.
    const underWay = new AbortController()
    const { signal } = underWay
    setState('loading')
    fetch(`/api/kilns/${kiln}/firings`, { signal })
      .then((reply) => (reply.ok ? reply.json() : Promise.reject(new Error(String(reply.status)))))
      .then((rows: Firing[]) => {
        if (signal.aborted) return
        setFirings(rows)
        setState('there')
        onLoaded?.(rows.length)
      })
      .catch(() => signal.aborted || setState('failed'))
    return () => underWay.abort()
  }, [kiln, tries])

  return (
    <section className="firing-log" aria-label="Firings" aria-busy={state === 'loading'}>
      {state === 'idle' && <p>No kiln chosen</p>}
      {state === 'loading' && <p>Loading</p>}
      {state === 'failed' && <p role="alert">The log could not be read <button onClick={() => setTries(tries + 1)}>Again</button></p>}
      {state === 'there' && firings.length === 0 && <p>No firings yet</p>}
      {state === 'there' && firings.length > 0 && <ul>{firings.map((f) => <li key={f.day}>{f.day}: {f.peak} °C</li>)}</ul>}
    </section>
  )
}
