import { useEffect, useRef } from 'preact/hooks'

export default function RestlessCard({ heading, onMoved }: { heading: string; onMoved?: () => void }) {
  const isFirst = useRef(true)
  // The flaw: an effect without dependencies runs with every rendering of the parent.
  useEffect(() => {
    if (!isFirst.current) onMoved?.()
    isFirst.current = false
  })
  return <section><h3>{heading}</h3></section>
}
