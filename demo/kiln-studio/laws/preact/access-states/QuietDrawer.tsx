import { useState } from 'preact/hooks'

// The flaw: the button says for ever that the drawer is shut.
export default function QuietDrawer({ tools }: { tools: string }) {
  const [open, setOpen] = useState(false)
  return (
    <div>
      <button type="button" aria-expanded="false" onClick={() => setOpen(!open)}>Tools</button>
      {open && <p>In it: {tools}</p>}
    </div>
  )
}
