// The flaw: it is called a button and takes the focus, and no key works it.
export default function MouseOnlyTile(props: { glaze: string; onPick?: (glaze: string) => void }) {
  return <div role="button" tabIndex={0} aria-label={`Pick ${props.glaze}`} onClick={() => props.onPick?.(props.glaze)}>{props.glaze}</div>
}
