import { Component, EventEmitter, Input, Output } from '@angular/core'

@Component({
  selector: 'echo-switch',
  template: `<button type="button" role="switch" [attr.aria-checked]="shown" (click)="press()">Vent</button>`,
})
export class EchoSwitch {
  @Output() readonly openChange = new EventEmitter<boolean>()
  protected shown?: boolean

  @Input({ required: true }) set open(open: boolean) {
    const before = this.shown
    this.shown = open
    // The flaw: what the parent sets is told to the parent.
    if (before !== undefined && before !== open) this.openChange.emit(open)
  }

  protected press() {
    this.shown = !this.shown
    this.openChange.emit(this.shown)
  }
}
