// The flaw: who cannot see it is not told that it is there.
export default function QuietNotice({ open = false }: { open?: boolean }) {
  return open ? <div role="dialog" aria-modal="true" aria-label="Kiln too hot"><button type="button">Vent</button></div> : null
}
