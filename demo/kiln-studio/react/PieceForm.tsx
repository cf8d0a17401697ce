import { useImperativeHandle, useRef, useState, type FormEvent, type Ref } from 'react'

export interface Piece {
  id: number
  name: string
  glaze: string
}
interface PieceFormProps {
  onAdded?: (piece: Piece) => void
  ref?: Ref<{ field: HTMLInputElement | null }>
}

export default function PieceForm({ onAdded, ref }: PieceFormProps) {
  const [name, setName] = useState('')
  const [glaze, setGlaze] = useState('Tenmoku')
  const [problem, setProblem] = useState('')
  const [sending, setSending] = useState(false)
  const field = useRef<HTMLInputElement>(null)
  useImperativeHandle(ref, () => ({ get field() { return field.current } }))

  async function send(event: FormEvent) {
    event.preventDefault()
    const missing = name.trim() === ''
    setProblem(missing ? 'A piece needs a name' : '')
    if (missing) return field.current?.focus()
    setSending(true)
    try {
      const reply = await fetch('/api/pieces', {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify({ name: name.trim(), glaze }),
      })
      if (!reply.ok) throw new Error(String(reply.status))
      onAdded?.(await reply.json())
      setName('')
    } catch {
      setProblem('The shelf could not be reached')
    } finally {
      setSending(false)
    }
  }

  return (
    <form className="piece-form" aria-label="New piece" onSubmit={send}>
      <label>Name <input ref={field} value={name} onChange={(e) => setName(e.target.value)} /></label>
      <label>Glaze
        <select value={glaze} onChange={(e) => setGlaze(e.target.value)}>
          <option>Tenmoku</option><option>Celadon</option><option>Shino</option>
        </select>
      </label>
      <button disabled={sending}>{sending ? 'Sending' : 'Add'}</button>
      {problem && <p role="alert">{problem}</p>}
    </form>
  )
}
