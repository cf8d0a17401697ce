import { GlazeBadge } from '../../../preact/GlazeBadge'

// The flaw: the badge declares `finish`.
export default function SlippedRow({ glaze }: { glaze: string }) {
  return <p><GlazeBadge name={glaze} finnish="matte" /></p>
}
