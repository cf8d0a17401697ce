import type { ComponentChildren } from 'preact'

// The flaw: framed, it shows its pieces in the margin too.
export default function TwiceCard({ framed, children }: { framed?: boolean; children?: ComponentChildren }) {
  return <section>{framed && <aside>{children}</aside>}<div>{children}</div></section>
}
