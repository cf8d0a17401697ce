import { Component, model } from '@angular/core'

@Component({
  selector: 'spring-switch',
  template: `<button type="button" role="switch" [attr.aria-checked]="open()" (click)="press()">Vent</button>`,
})
export class SpringSwitch {
  readonly open = model.required<boolean>()

  // The flaw: half a second later it takes back what it said.
  protected press() {
    const was = this.open()
    this.open.set(!was)
    setTimeout(() => this.open.set(was), 500)
  }
}
