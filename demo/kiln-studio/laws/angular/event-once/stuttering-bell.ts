import { Component, input, output } from '@angular/core'

@Component({
  selector: 'stuttering-bell',
  template: `<button type="button" [attr.aria-label]="'Ring ' + kiln()" (click)="press()">Ring</button>`,
})
export class StutteringBell {
  readonly kiln = input.required<string>()
  readonly ring = output<string>()

  protected press() {
    // The flaw: one press rings twice.
    this.ring.emit(this.kiln())
    this.ring.emit(this.kiln())
  }
}
