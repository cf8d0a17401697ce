// The flaw: a second field on the page has the same id.
export default function TwinField(props: { label: string }) {
  return <div><label for="glaze-field">{props.label}</label><input id="glaze-field" aria-label="Glaze" /></div>
}
