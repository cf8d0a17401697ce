interface VentSwitchProps {
  label: string
  open?: boolean
  onOpenChange?: (open: boolean) => void
  disabled?: boolean
}

export default function VentSwitch({ label, open = false, onOpenChange, disabled = false }: VentSwitchProps) {
  return (
    <button type="button" role="switch" class="vent-switch" aria-checked={open} disabled={disabled} onClick={() => onOpenChange?.(!open)}>
      {label} <span class="state">{open ? 'open' : 'shut'}</span>
    </button>
  )
}
