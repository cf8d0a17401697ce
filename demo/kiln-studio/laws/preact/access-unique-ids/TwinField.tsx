// The flaw: a second field on the page has the same id.
export default function TwinField({ label }: { label: string }) {
  return <div><label for="glaze-field">{label}</label><input id="glaze-field" aria-label="Glaze" /></div>
}
