import { NgTemplateOutlet } from '@angular/common'
import { Component, contentChild, input, type TemplateRef } from '@angular/core'

@Component({
  selector: 'twice-card',
  imports: [NgTemplateOutlet],
  template: `
    <section>
      <!-- The flaw: framed, it shows its pieces in the margin too. -->
      @if (framed()) { <aside><ng-container [ngTemplateOutlet]="pieces() ?? null" /></aside> }
      <div><ng-container [ngTemplateOutlet]="pieces() ?? null" /></div>
    </section>
  `,
})
export class TwiceCard {
  readonly framed = input(false)
  protected readonly pieces = contentChild<TemplateRef<void>>('pieces')
}
