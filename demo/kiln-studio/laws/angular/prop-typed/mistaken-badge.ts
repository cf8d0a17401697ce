import { Component, input } from '@angular/core'

@Component({
  selector: 'mistaken-badge',
  template: `<span class="badge">{{ glaze() }}, cone {{ cone() ?? 'unknown' }}</span>`,
})
export class MistakenBadge {
  readonly glaze = input.required<string>()
  readonly cone = input<number>()
}
