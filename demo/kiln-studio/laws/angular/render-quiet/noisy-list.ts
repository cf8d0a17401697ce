import { Component, input } from '@angular/core'

@Component({
  selector: 'noisy-list',
  // The flaw: a row is known by what many rows share.
  template: `<ul>@for (piece of pieces(); track piece.length > 0) { <li>{{ piece }}</li> }</ul>`,
})
export class NoisyList {
  readonly pieces = input.required<string[]>()
}
