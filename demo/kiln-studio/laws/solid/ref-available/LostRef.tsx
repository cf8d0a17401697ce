interface LostRefProps {
  label: string
  ref?: (handle: { readonly field: HTMLInputElement | undefined }) => void
}

export default function LostRef(props: LostRefProps) {
  let field: HTMLInputElement | undefined
  // The flaw: nobody gives the field to the element.
  props.ref?.({ get field() { return field } })
  return <label>{props.label}<input aria-label="Entry" /></label>
}
