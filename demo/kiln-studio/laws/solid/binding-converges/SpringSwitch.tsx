export default function SpringSwitch(props: { open: boolean; onOpenChange?: (open: boolean) => void }) {
  // The flaw: half a second later it takes back what it said.
  const press = () => {
    const was = props.open
    props.onOpenChange?.(!was)
    setTimeout(() => props.onOpenChange?.(was), 500)
  }
  return <button type="button" role="switch" aria-checked={props.open} onClick={press}>Vent</button>
}
