import { Children, type ReactNode } from 'react'

// The flaw: the last piece comes first.
export default function TurnedShelf({ children }: { children?: ReactNode }) {
  return <section>{Children.toArray(children).reverse()}</section>
}
