import { Component, EventEmitter, Input, Output } from '@angular/core'
import { Piece } from '../piece-store'

@Component({
  selector: 'app-piece-row',
  standalone: false,
  template: `
    <input [attr.aria-label]="'Name of ' + piece.name" [value]="piece.name" (change)="renamed.emit($any($event.target).value)" />
    <button type="button" (click)="removed.emit()">Remove {{ piece.name }}</button>
  `,
})
export class PieceRowComponent {
  @Input({ required: true }) piece!: Piece
  @Output() renamed = new EventEmitter<string>()
  @Output() removed = new EventEmitter<void>()
}
