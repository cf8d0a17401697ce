import { Component, input } from '@angular/core'

@Component({
  selector: 'chance-badge',
  template: `<span class="badge" [attr.data-hue]="hue">{{ name() }}</span>`,
})
export class ChanceBadge {
  readonly name = input.required<string>()
  // The flaw: what it shows is left to chance.
  protected readonly hue = Math.floor(Math.random() * 360)
}
