interface SpringSwitchProps {
  open: boolean
  onOpenChange?: (open: boolean) => void
}

export default function SpringSwitch({ open, onOpenChange }: SpringSwitchProps) {
  // The flaw: half a second later it takes back what it said.
  const press = () => {
    onOpenChange?.(!open)
    setTimeout(() => onOpenChange?.(open), 500)
  }
  return <button type="button" role="switch" aria-checked={open} onClick={press}>Vent</button>
}
