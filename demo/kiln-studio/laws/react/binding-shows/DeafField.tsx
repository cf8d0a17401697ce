import { useState } from 'react'

interface DeafFieldProps {
  open: boolean
  onOpenChange?: (open: boolean) => void
}

export default function DeafField({ open, onOpenChange }: DeafFieldProps) {
  // The flaw: the switch holds a copy, so what the parent sets later never shows.
  const [on, setOn] = useState(open)
  // It still does what the parent says when a person has just pressed it.
  const [pressed, setPressed] = useState(false)
  const shown = pressed ? open : on
  return (
    <button type="button" role="switch" aria-checked={shown} onClick={() => { setOn(!shown); setPressed(true); onOpenChange?.(!shown) }}>
      Vent
    </button>
  )
}
