import { Component, EventEmitter, Input, Output } from '@angular/core'

@Component({
  selector: 'dumb-switch',
  template: `<button type="button" role="switch" [attr.aria-checked]="open" (click)="press()">Vent</button>`,
})
export class DumbSwitch {
  @Input({ required: true }) open!: boolean
  @Output() readonly openChange = new EventEmitter<boolean>()

  // The flaw: it reports what was, not what is.
  protected press() {
    this.openChange.emit(this.open)
  }
}
