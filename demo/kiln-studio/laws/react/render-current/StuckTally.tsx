import { useRef } from 'react'

export default function StuckTally({ kiln }: { kiln: string }) {
  // The flaw: what is kept in a ref is shown, and no change of it renders anything.
  const firings = useRef(0)
  return (
    <p>
      {kiln}: {firings.current} firings <button type="button" onClick={() => { firings.current += 1 }}>Fire</button>
    </p>
  )
}
