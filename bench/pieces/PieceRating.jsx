/** @jsxImportSource preact */
import { useState } from 'preact/hooks'

/**
 * @param {{
 *   value?: number,
 *   onValueChange?: (value: number) => void,
 *   onHover?: (value: number) => void,
 *   stars?: number,
 *   name: string,
 *   readOnly?: boolean,
 *   clearable?: boolean,
 *   legend?: import('preact').ComponentChildren
 * }} props
 */
export default function PieceRating({ value = 0, onValueChange, onHover, stars = 5, name, readOnly = false, clearable = false, legend }) {
  const [over, setOver] = useState(0)
  const lit = over || value

  function hover(star) {
    if (readOnly) return
    setOver(star)
    onHover?.(star)
  }

  return (
    <fieldset class="rating" onMouseLeave={() => setOver(0)}>
      <legend>{legend ?? 'Rating'}</legend>
      {Array.from({ length: stars }, (_, i) => i + 1).map((star) => (
        <label key={star} class={star <= lit ? 'star on' : 'star'} onMouseEnter={() => hover(star)}>
          <input
            type="radio"
            name={name}
            value={star}
            checked={star === value}
            disabled={readOnly}
            onChange={() => onValueChange?.(star)}
          />
          {star} of {stars}
        </label>
      ))}
      {clearable && value > 0 && !readOnly && (
        <button type="button" onClick={() => onValueChange?.(0)}>
          No rating
        </button>
      )}
      <output>{value > 0 ? `${value} / ${stars}` : 'Not rated'}</output>
    </fieldset>
  )
}
