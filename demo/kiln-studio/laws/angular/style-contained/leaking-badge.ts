import { Component, input } from '@angular/core'

@Component({
  selector: 'leaking-badge',
  template: `<span class="badge">{{ name() }}</span>`,
  styles: `
    .badge { padding: 2px }
    /* The flaw: the buttons of the whole page. */
    ::ng-deep button { color: brown }
  `,
})
export class LeakingBadge {
  readonly name = input.required<string>()
}
