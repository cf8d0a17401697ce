import { useEffect } from 'preact/hooks'

export default function NoisyBadge({ cone }: { cone: number }) {
  // The flaw: a leftover that tells every developer something, each time.
  useEffect(() => {
    if (cone < 1) console.warn('rendering a badge below the first cone')
  }, [cone])
  return <span class="badge">Cone {cone}</span>
}
