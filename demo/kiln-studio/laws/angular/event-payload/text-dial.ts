import { Component, input, output } from '@angular/core'

@Component({
  selector: 'text-dial',
  template: `<p>{{ target() }} <button type="button" (click)="told()">Fire</button></p>`,
})
export class TextDial {
  readonly target = input.required<number>()
  readonly fire = output<number>()

  // The flaw: a text where a number is declared.
  protected told() {
    this.fire.emit(String(this.target()) as any)
  }
}
