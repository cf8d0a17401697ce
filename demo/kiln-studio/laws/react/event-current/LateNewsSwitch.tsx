interface LateNewsSwitchProps {
  open: boolean
  onOpenChange?: (open: boolean) => void
  onToggle?: (open: boolean) => void
}

export default function LateNewsSwitch({ open, onOpenChange, onToggle }: LateNewsSwitchProps) {
  const press = () => {
    onOpenChange?.(!open)
    // The flaw: the news of the toggle is of yesterday.
    onToggle?.(open)
  }
  return <button type="button" role="switch" aria-checked={open} onClick={press}>Vent</button>
}
