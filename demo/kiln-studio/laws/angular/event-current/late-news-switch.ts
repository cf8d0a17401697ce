import { Component, model, output } from '@angular/core'

@Component({
  selector: 'late-news-switch',
  template: `<button type="button" role="switch" [attr.aria-checked]="open()" (click)="press()">Vent</button>`,
})
export class LateNewsSwitch {
  readonly open = model.required<boolean>()
  readonly toggled = output<boolean>()

  protected press() {
    const was = this.open()
    this.open.set(!was)
    // The flaw: the news of the toggle is of yesterday.
    this.toggled.emit(was)
  }
}
