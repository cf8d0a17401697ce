import { type ComponentChildren, toChildArray } from 'preact'

// The flaw: the last piece comes first.
export default function TurnedShelf({ children }: { children?: ComponentChildren }) {
  return <section>{toChildArray(children).reverse()}</section>
}
