import { useState, type KeyboardEvent } from 'react'

interface ToolDrawerProps {
  /** What lies in it. */
  tools: string
}

/** A drawer that a press, Enter or Space opens and shuts. */
export default function ToolDrawer({ tools }: ToolDrawerProps) {
  const [open, setOpen] = useState(false)
  const turn = () => setOpen(!open)
  const onKey = (event: KeyboardEvent) => {
    if (event.key !== 'Enter' && event.key !== ' ') return
    event.preventDefault()
    turn()
  }
  return (
    <div className="tool-drawer">
      <div role="button" tabIndex={0} aria-expanded={open} onClick={turn} onKeyDown={onKey}>Tools</div>
      {open && <p>In it: {tools}</p>}
    </div>
  )
}
