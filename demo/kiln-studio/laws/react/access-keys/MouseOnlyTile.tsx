interface MouseOnlyTileProps {
  glaze: string
  onPick?: (glaze: string) => void
}

// The flaw: it is called a button and takes the focus, and no key works it.
export default function MouseOnlyTile({ glaze, onPick }: MouseOnlyTileProps) {
  return <div role="button" tabIndex={0} aria-label={`Pick ${glaze}`} onClick={() => onPick?.(glaze)}>{glaze}</div>
}
