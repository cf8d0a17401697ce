interface AwakeSwitchProps {
  label: string
  disabled?: boolean
  onFlip?: () => void
}

// The flaw: it says that it is disabled and acts all the same.
export default function AwakeSwitch({ label, disabled, onFlip }: AwakeSwitchProps) {
  const flip = () => onFlip?.()
  return <div role="button" tabIndex={0} aria-disabled={disabled} onClick={flip} onKeyDown={(event) => event.key === 'Enter' && flip()}>{label}</div>
}
