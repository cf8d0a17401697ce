import { Component, input, output } from '@angular/core'

@Component({
  selector: 'mouse-only-tile',
  // The flaw: it is called a button and takes the focus, and no key works it.
  template: `<div role="button" tabindex="0" [attr.aria-label]="'Pick ' + glaze()" (click)="pick.emit(glaze())">{{ glaze() }}</div>`,
})
export class MouseOnlyTile {
  readonly glaze = input.required<string>()
  readonly pick = output<string>()
}
