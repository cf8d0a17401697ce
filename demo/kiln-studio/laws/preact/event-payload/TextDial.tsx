interface TextDialProps {
  target: number
  onFire?: (target: number) => void
}

// The flaw: a text where a number is declared.
export default function TextDial({ target, onFire }: TextDialProps) {
  return <p>{target} <button type="button" onClick={() => onFire?.(String(target) as any)}>Fire</button></p>
}
