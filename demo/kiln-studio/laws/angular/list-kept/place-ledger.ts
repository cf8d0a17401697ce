import { Component, input, signal } from '@angular/core'

@Component({
  selector: 'place-ledger',
  template: `
    <ul>
      @for (piece of pieces(); track piece; let place = $index) {
        <li>
          <button type="button" (click)="open.set(open() === place ? -1 : place)">Glaze of {{ piece }}</button>
          @if (open() === place) {
            <span>unknown</span>
          }
        </li>
      }
    </ul>
  `,
})
export class PlaceLedger {
  readonly pieces = input.required<string[]>()
  // The flaw: what is open is known by its place, not by its piece.
  protected readonly open = signal(-1)
}
