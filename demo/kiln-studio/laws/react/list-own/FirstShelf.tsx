// The flaw: whichever is pressed, the first one is told of.
export default function FirstShelf({ pieces, onPick }: { pieces: string[]; onPick?: (piece: string) => void }) {
  return (
    <ul>
      {pieces.map((piece) => (
        <li key={piece}><button type="button" onClick={() => onPick?.(pieces[0])}>{piece}</button></li>
      ))}
    </ul>
  )
}
