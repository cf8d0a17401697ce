// The flaw: it says that it is disabled and acts all the same.
export default function AwakeSwitch(props: { label: string; disabled?: boolean; onFlip?: () => void }) {
  return (
    <div
      role="button"
      tabIndex={0}
      aria-label={props.label || 'Flip'}
      aria-disabled={props.disabled ?? false}
      onClick={() => props.onFlip?.()}
      onKeyDown={(event) => event.key === 'Enter' && props.onFlip?.()}
    >
      {props.label}
    </div>
  )
}
