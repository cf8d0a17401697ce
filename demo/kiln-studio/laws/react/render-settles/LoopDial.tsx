import { useEffect, useState } from 'react'

export default function LoopDial({ label }: { label: string }) {
  const [heat, setHeat] = useState(0)
  // The flaw: what the effect sets makes it run again.
  useEffect(() => {
    const timer = setTimeout(() => setHeat((heat + 1) % 7))
    return () => clearTimeout(timer)
  }, [heat])
  return <output aria-label={label}>{heat}</output>
}
