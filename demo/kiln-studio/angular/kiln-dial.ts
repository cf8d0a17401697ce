import { Component, computed, input, model, output } from '@angular/core'

const HOTTEST = 1300

@Component({
  selector: 'kiln-dial',
  templateUrl: './kiln-dial.html',
  styleUrl: './kiln-dial.css',
})
export class KilnDial {
  /** What the firing is called. */
  readonly label = input.required<string>()
  /** Degrees that the kiln climbs to. */
  readonly target = model.required<number>()
  /** The scale that the target is read in. */
  readonly unit = input<'C' | 'F'>('C')
  /** A locked dial cannot be turned. */
  readonly locked = input<boolean>(false)
  /** Degrees that one press adds or takes. */
  readonly step = input<number>(10)
  readonly fire = output<{ target: number; unit: 'C' | 'F' }>()

  readonly reading = computed(() => `${this.target()} °${this.unit()}`)

  nudge(degrees: number) {
    if (this.locked()) return
    const next = Math.min(HOTTEST, Math.max(0, this.target() + degrees))
    if (next === this.target()) return
    this.target.set(next)
    this.fire.emit({ target: next, unit: this.unit() })
  }

  reset() {
    this.nudge(-this.target())
  }

  protected typed(event: Event) {
    const next = Number((event.target as HTMLInputElement).value)
    if (!this.locked() && Number.isFinite(next)) this.target.set(Math.min(HOTTEST, Math.max(0, next)))
  }
}
