interface AwakeSwitchProps {
  label: string
  disabled?: boolean
  onFlip?: () => void
}

// The flaw: it says that it is disabled and acts all the same.
export default function AwakeSwitch({ label, disabled, onFlip }: AwakeSwitchProps) {
  return <div role="button" tabIndex={0} aria-disabled={disabled} onClick={() => onFlip?.()}>{label}</div>
}
