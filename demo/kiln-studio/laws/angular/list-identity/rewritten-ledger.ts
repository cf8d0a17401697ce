import { Component, input } from '@angular/core'

@Component({
  selector: 'rewritten-ledger',
  template: `
    <ul>
      <!-- The flaw: a row is known by its place, not by its piece. -->
      @for (piece of pieces(); track $index) {
        <li><button type="button" [attr.aria-label]="'Remove ' + piece">{{ piece }}</button></li>
      }
    </ul>
  `,
})
export class RewrittenLedger {
  readonly pieces = input.required<string[]>()
}
