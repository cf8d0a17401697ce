// The flaw: a picture says what the button does, and nothing else.
export default function MuteSwitch({ glaze, onRemove }: { glaze: string; onRemove?: () => void }) {
  return (
    <p>{glaze}
      <button type="button" className="remove" onClick={() => onRemove?.()}><svg viewBox="0 0 8 8"><path d="M1 1 7 7M7 1 1 7" /></svg></button>
    </p>
  )
}
