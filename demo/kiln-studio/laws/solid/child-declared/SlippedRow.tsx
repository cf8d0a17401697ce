import { GlazeBadge } from '../../../solid/GlazeBadge'

// The flaw: the badge declares `finish`.
export default function SlippedRow(props: { glaze: string }) {
  return <p><GlazeBadge name={props.glaze} finnish="matte" /></p>
}
