import type { ReactNode } from 'react'

type Finish = 'gloss' | 'satin' | 'matte'

interface Props {
  name: string
  finish?: Finish
  /** Orton cone, such as 6 or 10. */
  cone?: number
  foodSafe?: boolean
  icon?: ReactNode
}

export function GlazeBadge({ name, finish = 'gloss', cone, foodSafe = false, icon }: Props) {
  return (
    <span className={`glaze-badge finish-${finish}`}>
      {icon && (
        <span className="icon" aria-hidden="true">
          {icon}
        </span>
      )}
      <span className="name">{name}</span>
      {cone !== undefined && <small className="cone">cone {cone}</small>}
      {foodSafe && (
        <span className="safe" title="safe for food">
          ✓ food
        </span>
      )}
    </span>
  )
}
