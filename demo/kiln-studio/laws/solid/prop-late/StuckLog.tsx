import { For } from 'solid-js'

export default function StuckLog(props: { rows?: string[] }) {
  // The flaw: whether there is anything to show is decided once.
  if (!props.rows) return <p>No firings yet</p>
  return <ul><For each={props.rows}>{(row) => <li>{row}</li>}</For></ul>
}
