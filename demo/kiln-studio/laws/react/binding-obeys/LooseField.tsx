import { useEffect, useState } from 'react'

interface LooseFieldProps {
  glaze: string
  onGlazeChange?: (glaze: string) => void
}

export default function LooseField({ glaze, onGlazeChange }: LooseFieldProps) {
  // The flaw: the field shows its own copy, whatever the parent makes of the edit.
  const [text, setText] = useState(glaze)
  useEffect(() => setText(glaze), [glaze])
  return <label>Glaze <input value={text} onChange={(e) => { setText(e.target.value); onGlazeChange?.(e.target.value) }} /></label>
}
