import { useEffect, useRef } from 'preact/hooks'

interface JumpyPickerProps {
  glaze: string
  onPick?: (glaze: string) => void
}

export default function JumpyPicker({ glaze, onPick }: JumpyPickerProps) {
  const shown = useRef(glaze)
  // The flaw: another glaze of the parent's is told as if somebody had picked it.
  useEffect(() => {
    if (shown.current !== glaze) onPick?.(glaze)
    shown.current = glaze
  }, [glaze])
  return <button type="button" aria-label={`Pick ${glaze}`} onClick={() => onPick?.(glaze)}>{glaze}</button>
}
