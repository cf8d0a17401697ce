interface LateNewsSwitchProps {
  open: boolean
  onOpenChange?: (open: boolean) => void
  onToggle?: (open: boolean) => void
}

export default function LateNewsSwitch(props: LateNewsSwitchProps) {
  const press = () => {
    const was = props.open
    props.onOpenChange?.(!was)
    // The flaw: the news of the toggle is of yesterday.
    props.onToggle?.(was)
  }
  return <button type="button" role="switch" aria-checked={props.open} onClick={press}>Vent</button>
}
