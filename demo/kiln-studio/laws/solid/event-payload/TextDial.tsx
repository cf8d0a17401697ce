// The flaw: a text where a number is declared.
export default function TextDial(props: { target: number; onFire?: (target: number) => void }) {
  return <p>{props.target} <button type="button" onClick={() => props.onFire?.(String(props.target) as any)}>Fire</button></p>
}
