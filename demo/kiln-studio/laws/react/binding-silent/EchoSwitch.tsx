import { useEffect, useRef } from 'react'

interface EchoSwitchProps {
  open: boolean
  onOpenChange?: (open: boolean) => void
}

export default function EchoSwitch({ open, onOpenChange }: EchoSwitchProps) {
  const last = useRef(open)
  // The flaw: what the parent sets is told to the parent.
  useEffect(() => {
    if (open !== last.current) onOpenChange?.(open)
    last.current = open
  }, [open])
  const press = () => {
    last.current = !open
    onOpenChange?.(!open)
  }
  return <button type="button" role="switch" aria-checked={open} onClick={press}>Vent</button>
}
