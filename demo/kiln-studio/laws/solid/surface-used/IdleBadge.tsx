// The flaw: nothing makes anything of the cone.
export default function IdleBadge(props: { glaze: string; cone?: number }) {
  return <strong>{props.glaze}</strong>
}
