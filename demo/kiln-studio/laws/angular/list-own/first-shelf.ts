import { Component, input, output } from '@angular/core'

@Component({
  selector: 'first-shelf',
  template: `
    <ul>
      @for (piece of pieces(); track piece) {
        <!-- The flaw: whichever is pressed, the first one is told of. -->
        <li><button type="button" (click)="pick.emit(pieces()[0])">{{ piece }}</button></li>
      }
    </ul>
  `,
})
export class FirstShelf {
  readonly pieces = input.required<string[]>()
  readonly pick = output<string>()
}
