import { Component, input, output } from '@angular/core'

@Component({
  selector: 'awake-switch',
  // The flaw: it says that it is disabled and acts all the same.
  template: `<div role="button" tabindex="0" [attr.aria-label]="label() || 'Flip'" [attr.aria-disabled]="disabled()" (click)="flip.emit()" (keydown.enter)="flip.emit()">{{ label() }}</div>`,
})
export class AwakeSwitch {
  readonly label = input.required<string>()
  readonly disabled = input(false)
  readonly flip = output<void>()
}
