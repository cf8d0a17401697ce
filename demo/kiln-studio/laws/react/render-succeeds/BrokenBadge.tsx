const angles: Record<string, { shine: number }> = { gloss: { shine: 90 }, satin: { shine: 40 } }

// The flaw: the table has no entry for a finish that is declared.
export default function BrokenBadge({ finish }: { finish: 'gloss' | 'satin' | 'matte' }) {
  return <span className="badge">{finish}: {angles[finish].shine}</span>
}
