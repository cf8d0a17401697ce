import type { ComponentChildren } from 'preact'

type Finish = 'gloss' | 'satin' | 'matte'

interface Props {
  name: string
  finish?: Finish
  /** Orton cone, such as 6 or 10. */
  cone?: number
  foodSafe?: boolean
  icon?: ComponentChildren
}

export function GlazeBadge({ name, finish = 'gloss', cone, foodSafe = false, icon }: Props) {
  return (
    <span class={`glaze-badge finish-${finish}`}>
      {icon && (
        <span class="icon" aria-hidden="true">
          {icon}
        </span>
      )}
      <span class="name">{name}</span>
      {cone !== undefined && <small class="cone">cone {cone}</small>}
      {foodSafe && (
        <span class="safe" title="safe for food">
          ✓ food
        </span>
      )}
    </span>
  )
}
