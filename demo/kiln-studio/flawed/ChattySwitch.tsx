import { useEffect } from 'react'

interface ChattySwitchProps {
  label: string
  open?: boolean
  onOpenChange?: (open: boolean) => void
  disabled?: boolean
}

export default function ChattySwitch({ label, open = false, onOpenChange, disabled = false }: ChattySwitchProps) {
  // The flaw: it tells its parent what the parent has just told it.
  useEffect(() => {
    if (open && disabled) onOpenChange?.(open)
  }, [open])
  return (
    <button type="button" role="switch" aria-checked={open} disabled={disabled} onClick={() => onOpenChange?.(!open)}>
      {label}
    </button>
  )
}
