// The flaw: it reports what was, not what is.
export default function DumbSwitch(props: { open: boolean; onOpenChange?: (open: boolean) => void }) {
  return <button type="button" role="switch" aria-checked={props.open} onClick={() => props.onOpenChange?.(props.open)}>Vent</button>
}
