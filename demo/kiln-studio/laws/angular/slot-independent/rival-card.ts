import { NgTemplateOutlet } from '@angular/common'
import { Component, contentChild, input, type TemplateRef } from '@angular/core'

@Component({
  selector: 'rival-card',
  imports: [NgTemplateOutlet],
  template: `
    <section [class.framed]="framed()">
      <header><ng-container [ngTemplateOutlet]="heading() ?? null" /></header>
      <!-- The flaw: there is a footer only where there is no heading. -->
      @if (!heading()) { <footer><ng-container [ngTemplateOutlet]="footer() ?? null" /></footer> }
    </section>
  `,
})
export class RivalCard {
  readonly framed = input(false)
  protected readonly heading = contentChild<TemplateRef<void>>('heading')
  protected readonly footer = contentChild<TemplateRef<void>>('footer')
}
