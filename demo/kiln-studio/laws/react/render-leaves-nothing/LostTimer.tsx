import { useEffect, useState } from 'react'

export default function LostTimer({ label }: { label: string }) {
  const [minutes, setMinutes] = useState(0)
  // The flaw: nobody stops the timer.
  useEffect(() => {
    setInterval(() => setMinutes((m) => m + 1), 60_000)
  }, [])
  return <p>{label} <time>{minutes} min</time></p>
}
