interface VentSwitchProps {
  label: string
  open?: boolean
  onOpenChange?: (open: boolean) => void
  disabled?: boolean
}

export default function VentSwitch({ label, open = false, onOpenChange, disabled = false }: VentSwitchProps) {
  return (
    <button type="button" role="switch" className="vent-switch" aria-checked={open} disabled={disabled} onClick={() => onOpenChange?.(!open)}>
      {label} <span className="state">{open ? 'open' : 'shut'}</span>
    </button>
  )
}
