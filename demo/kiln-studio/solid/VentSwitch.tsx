interface VentSwitchProps {
  label: string
  open?: boolean
  onOpenChange?: (open: boolean) => void
  disabled?: boolean
}

export default function VentSwitch(props: VentSwitchProps) {
  return (
    <button
      type="button"
      role="switch"
      class="vent-switch"
      aria-checked={props.open ? 'true' : 'false'}
      disabled={props.disabled}
      onClick={() => props.onOpenChange?.(!props.open)}
    >
      {props.label} <span class="state">{props.open ? 'open' : 'shut'}</span>
    </button>
  )
}
