/** @jsxImportSource solid-js */
import { createEffect, createSignal, For, mergeProps, onCleanup, Show, splitProps } from 'solid-js'

/**
 * @param {{
 *   label: string,
 *   commands: { key: string, title: string, off?: boolean }[],
 *   onCommand?: (key: string) => void,
 *   onToggle?: (open: boolean) => void,
 *   disabled?: boolean,
 *   side?: 'left' | 'right',
 *   children?: import('solid-js').JSX.Element
 * }} props
 */
export default function KilnMenu(props) {
  const merged = mergeProps({ side: 'left', disabled: false }, props)
  const [open, setOpen] = createSignal(false)
  let root

  function change(next) {
    if (merged.disabled || next === open()) return
    setOpen(next)
    props.onToggle?.(next)
  }

  function run(command) {
    if (command.off) return
    props.onCommand?.(command.key)
    change(false)
  }

  const outside = (event) => {
    if (!root.contains(event.target)) change(false)
  }

  createEffect(() => {
    if (!open()) return
    document.addEventListener('pointerdown', outside)
    onCleanup(() => document.removeEventListener('pointerdown', outside))
  })
  createEffect(() => {
    if (merged.disabled) setOpen(false)
  })

  return (
    <div ref={root} class={`menu menu-${merged.side}`} onKeyDown={(e) => e.key === 'Escape' && change(false)}>
      <button type="button" aria-haspopup="menu" aria-expanded={open()} disabled={merged.disabled} onClick={() => change(!open())}>
        {props.label}
      </button>
      <Show when={open()}>
        <ul role="menu" aria-label={props.label}>
          <For each={props.commands}>
            {(command) => (
              <li role="none">
                <button type="button" role="menuitem" disabled={command.off} onClick={() => run(command)}>
                  {command.title}
                </button>
              </li>
            )}
          </For>
          <Show when={props.children}>
            <li role="none">{props.children}</li>
          </Show>
        </ul>
      </Show>
    </div>
  )
}
