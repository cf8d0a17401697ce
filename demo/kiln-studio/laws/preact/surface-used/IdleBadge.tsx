// The flaw: nothing makes anything of the cone.
export default function IdleBadge({ glaze, cone }: { glaze: string; cone?: number }) {
  return <strong>{glaze}</strong>
}
