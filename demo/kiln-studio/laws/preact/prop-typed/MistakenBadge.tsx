export default function MistakenBadge({ glaze, cone }: { glaze: string; cone?: number }) {
  return <span class="badge">{glaze}, cone {cone ?? 'unknown'}</span>
}
