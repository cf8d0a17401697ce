import { useEffect, useRef, useState } from 'react'

interface OverfireNoticeProps {
  reading: number
  limit?: number
}

export default function OverfireNotice({ reading, limit = 1280 }: OverfireNoticeProps) {
  const [over, setOver] = useState(0)
  const first = useRef(true)
  useEffect(() => {
    if (first.current) first.current = false
    else setOver((count) => (reading > limit ? count + 1 : 0))
  }, [reading])
  return <div className="overfire-notice">{over >= 6 && <p role="alert">The kiln is over its limit of {limit} °C</p>}</div>
}
