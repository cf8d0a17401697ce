import { useEffect, useId, useImperativeHandle, useRef, useState, forwardRef, type KeyboardEvent, type ReactNode } from 'react'

export interface FiringTab {
  id: string
  title: string
  content: ReactNode
  locked?: boolean
}

export interface FiringTabsHandle {
  focus(): void
}

interface Props {
  tabs: FiringTab[]
  active?: string
  onActiveChange?: (id: string) => void
  vertical?: boolean
  keepMounted?: boolean
  header?: ReactNode
}

const FiringTabs = forwardRef<FiringTabsHandle, Props>(function FiringTabs(
  { tabs, active, onActiveChange, vertical = false, keepMounted = false, header },
  ref
) {
  const base = useId()
  const [own, setOwn] = useState(active ?? tabs[0]?.id)
  const list = useRef<HTMLDivElement>(null)
  const current = active ?? own
  const shown = tabs.some((t) => t.id === current) ? current : tabs[0]?.id

  useEffect(() => {
    if (active !== undefined) setOwn(active)
  }, [active])

  useImperativeHandle(ref, () => ({
    focus: () => list.current?.querySelector<HTMLElement>('[aria-selected="true"]')?.focus()
  }))

  function select(tab: FiringTab) {
    if (tab.locked || tab.id === shown) return
    setOwn(tab.id)
    onActiveChange?.(tab.id)
  }

  function move(event: KeyboardEvent) {
    const step = event.key === 'ArrowRight' ? 1 : event.key === 'ArrowLeft' ? -1 : 0
    if (!step) return
    event.preventDefault()
    const free = tabs.filter((t) => !t.locked)
    const at = free.findIndex((t) => t.id === shown)
    const next = free[(at + step + free.length) % free.length]
    if (next) select(next)
  }

  return (
    <section className={vertical ? 'tabs tabs-vertical' : 'tabs'}>
      {header && <header>{header}</header>}
      <div role="tablist" ref={list} aria-orientation={vertical ? 'vertical' : 'horizontal'} onKeyDown={move}>
        {tabs.map((tab) => (
          <button
            key={tab.id}
            role="tab"
            type="button"
            id={`${base}-${tab.id}`}
            aria-selected={tab.id === shown}
            aria-controls={tab.id === shown || keepMounted ? `${base}-${tab.id}-panel` : undefined}
            disabled={tab.locked}
            tabIndex={tab.id === shown ? 0 : -1}
            onClick={() => select(tab)}
          >
            {tab.title}
          </button>
        ))}
      </div>
      {tabs.map(
        (tab) =>
          (tab.id === shown || keepMounted) && (
            <div key={tab.id} role="tabpanel" id={`${base}-${tab.id}-panel`} aria-labelledby={`${base}-${tab.id}`} hidden={tab.id !== shown}>
              {tab.content}
            </div>
          )
      )}
    </section>
  )
})

export default FiringTabs
