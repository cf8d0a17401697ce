import { Component, input, output } from '@angular/core'
import { Piece } from '../piece-store'

@Component({
  selector: 'piece-row',
  template: `
    <input [attr.aria-label]="'Name of ' + piece().name" [value]="piece().name" (change)="renamed.emit($any($event.target).value)" />
    <button type="button" (click)="removed.emit()">Remove {{ piece().name }}</button>
  `,
})
export class PieceRow {
  readonly piece = input.required<Piece>()
  readonly renamed = output<string>()
  readonly removed = output<void>()
}
