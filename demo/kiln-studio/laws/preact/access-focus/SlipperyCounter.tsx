import { useState } from 'preact/hooks'

// The flaw: the button has the count for its key, so each press takes it off the page and puts another there.
export default function SlipperyCounter({ piece }: { piece: string }) {
  const [count, setCount] = useState(0)
  return (
    <div>
      <button key={count} type="button" aria-label={`One more ${piece}`} onClick={() => setCount(count + 1)}>One more</button>
      <output>{count}</output>
    </div>
  )
}
