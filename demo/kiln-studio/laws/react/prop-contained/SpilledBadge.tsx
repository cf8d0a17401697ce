// The flaw: all props land on the element.
export default function SpilledBadge(props: { glaze: string }) {
  return <span className="badge" {...props}>{props.glaze}</span>
}
