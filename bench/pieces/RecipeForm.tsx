import { useEffect, useRef, useState, type FormEvent } from 'react'

export interface Recipe {
  name: string
  cone: number
  food: boolean
}

interface Props {
  value: Recipe
  onChange: (recipe: Recipe) => void
  onSubmit?: (recipe: Recipe) => void
  onCancel?: () => void
  saving?: boolean
  readOnly?: boolean
  minCone?: number
  maxCone?: number
}

export default function RecipeForm({ value, onChange, onSubmit, onCancel, saving = false, readOnly = false, minCone = 1, maxCone = 10 }: Props) {
  const [touched, setTouched] = useState(false)
  const [seconds, setSeconds] = useState(0)
  const name = useRef<HTMLInputElement>(null)
  const error = value.name.trim() === '' ? 'A recipe needs a name' : value.cone < minCone || value.cone > maxCone ? `Cone ${minCone} to ${maxCone}` : ''

  useEffect(() => {
    if (!saving) {
      setSeconds(0)
      return
    }
    const timer = setInterval(() => setSeconds((s) => s + 1), 1000)
    return () => clearInterval(timer)
  }, [saving])

  function submit(event: FormEvent) {
    event.preventDefault()
    setTouched(true)
    if (error || saving) {
      name.current?.focus()
      return
    }
    onSubmit?.(value)
  }

  return (
    <form onSubmit={submit} noValidate aria-busy={saving}>
      <label>
        Name
        <input
          ref={name}
          value={value.name}
          readOnly={readOnly}
          aria-invalid={touched && error !== ''}
          onChange={(e) => onChange({ ...value, name: e.target.value })}
          onBlur={() => setTouched(true)}
        />
      </label>
      <label>
        Cone
        <input
          type="number"
          min={minCone}
          max={maxCone}
          readOnly={readOnly}
          value={value.cone}
          onChange={(e) => onChange({ ...value, cone: e.target.valueAsNumber || 0 })}
        />
      </label>
      <label>
        <input type="checkbox" checked={value.food} disabled={readOnly} onChange={(e) => onChange({ ...value, food: e.target.checked })} />
        Safe for food
      </label>
      {touched && error && <p role="alert">{error}</p>}
      {saving && <p role="status">Saving for {seconds} s</p>}
      {!readOnly && (
        <button type="submit" disabled={saving}>
          Save
        </button>
      )}
      {onCancel && (
        <button type="button" onClick={onCancel}>
          Cancel
        </button>
      )}
    </form>
  )
}
