import { Component, type ElementRef, input, viewChild } from '@angular/core'

@Component({
  selector: 'renewed-field',
  // The flaw: every look that the framework takes makes the field anew.
  template: `<label>{{ label() }} @for (turn of [turned()]; track turn) { <input #entry aria-label="Entry" /> }</label>`,
})
export class RenewedField {
  readonly label = input.required<string>()
  private readonly entry = viewChild<ElementRef<HTMLInputElement>>('entry')
  private turns = {}

  get field() {
    return this.entry()?.nativeElement
  }
  protected turned() {
    return this.turns
  }
  ngDoCheck() {
    this.turns = {}
  }
}
