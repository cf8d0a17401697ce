import { Show, createSignal } from 'solid-js'

// The flaw: the button hangs on the count, so each press takes it off the page and puts another there.
export default function SlipperyCounter(props: { piece: string }) {
  const [count, setCount] = createSignal(1)
  return (
    <div>
      <Show when={count()} keyed>
        {(known) => <button type="button" aria-label={`One more ${props.piece}`} onClick={() => setCount(known + 1)}>One more</button>}
      </Show>
      <output>{count()}</output>
    </div>
  )
}
