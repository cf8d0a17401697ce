import { useEffect, useImperativeHandle, useRef, useState, type Ref } from 'react'

interface FiringTimerProps {
  seconds: number
  auto?: boolean
  onDone?: () => void
  ref?: Ref<{ start(): void; stop(): void }>
}

export default function FiringTimer({ seconds, auto = false, onDone, ref }: FiringTimerProps) {
  const [left, setLeft] = useState(seconds)
  const [running, setRunning] = useState(auto && seconds > 0)
  const done = useRef(onDone)
  done.current = onDone

  useEffect(() => setLeft(seconds), [seconds])
  useEffect(() => {
    if (!running) return
    const timer = setInterval(() => setLeft((now) => Math.max(0, now - 1)), 1000)
    return () => clearInterval(timer)
  }, [running])
  useEffect(() => {
    if (!running || left > 0) return
    setRunning(false)
    done.current?.()
  }, [running, left])
  useImperativeHandle(ref, () => ({ start: () => setRunning(left > 0), stop: () => setRunning(false) }))

  return <time role="timer" className="firing-timer">{Math.floor(left / 60)}:{String(left % 60).padStart(2, '0')}</time>
}
