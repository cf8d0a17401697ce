export default function MistakenBadge(props: { glaze: string; cone?: number }) {
  return <span class="badge">{props.glaze}, cone {props.cone ?? 'unknown'}</span>
}
