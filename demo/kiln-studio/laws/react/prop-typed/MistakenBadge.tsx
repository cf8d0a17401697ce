export default function MistakenBadge({ glaze, cone }: { glaze: string; cone?: number }) {
  return <span className="badge">{glaze}, cone {cone ?? 'unknown'}</span>
}
