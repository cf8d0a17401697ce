import { mergeProps, Show, type JSX } from 'solid-js'

interface GlazeBadgeProps {
  name: string
  finish?: 'gloss' | 'satin' | 'matte'
  /** Orton cone, such as 6 or 10. */
  cone?: number
  foodSafe?: boolean
  icon?: JSX.Element
}

export function GlazeBadge(given: GlazeBadgeProps) {
  const props = mergeProps({ finish: 'gloss' as const, foodSafe: false }, given)
  return (
    <span class={`glaze-badge finish-${props.finish}`}>
      <Show when={props.icon}>{(icon) => <span class="icon" aria-hidden="true">{icon()}</span>}</Show>
      <span class="name">{props.name}</span>
      <Show when={props.cone !== undefined}><small class="cone">cone {props.cone}</small></Show>
      <Show when={props.foodSafe}><span class="safe" title="safe for food">✓ food</span></Show>
    </span>
  )
}
