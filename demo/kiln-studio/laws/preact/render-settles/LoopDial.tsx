import { useEffect, useState } from 'preact/hooks'

export default function LoopDial({ label }: { label: string }) {
  const [heat, setHeat] = useState(0)
  useEffect(() => {
    // The flaw: each turn of the loop starts the next one.
    const { port1, port2 } = new MessageChannel()
    port1.onmessage = () => {
      setHeat((now) => (now + 1) % 7)
      port2.postMessage(null)
    }
    port2.postMessage(null)
    return () => port1.close()
  }, [])
  return <output aria-label={label}>{heat}</output>
}
