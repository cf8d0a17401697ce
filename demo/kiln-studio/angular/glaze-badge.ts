import { Component, input } from '@angular/core'

@Component({
  selector: 'glaze-badge',
  template: `
    <span class="glaze-badge" [class]="'finish-' + finish()">
      <span class="name">{{ name() }}</span>
      @if (cone() !== undefined) { <small class="cone">cone {{ cone() }}</small> }
      @if (foodSafe()) { <span class="safe" title="safe for food">✓ food</span> }
    </span>
  `,
  styles: `
    .glaze-badge { border: 1px solid currentcolor; border-radius: 1em; padding: 0 0.6em }
    .finish-matte { filter: saturate(0.6) }
  `,
})
export class GlazeBadge {
  readonly name = input.required<string>()
  readonly finish = input<'gloss' | 'satin' | 'matte'>('gloss')
  /** Orton cone, such as 6 or 10. */
  readonly cone = input<number>()
  readonly foodSafe = input(false)
}
