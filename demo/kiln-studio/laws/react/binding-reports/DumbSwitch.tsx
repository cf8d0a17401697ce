interface DumbSwitchProps {
  open: boolean
  onOpenChange?: (open: boolean) => void
}

// The flaw: it reports what was, not what is.
export default function DumbSwitch({ open, onOpenChange }: DumbSwitchProps) {
  return <button type="button" role="switch" aria-checked={open} onClick={() => onOpenChange?.(open)}>Vent</button>
}
