import { Component, effect, ElementRef, input, output, viewChild } from '@angular/core'

@Component({
  selector: 'kiln-alarm',
  template: `
    @if (ringing()) {
      <div role="alertdialog" aria-modal="true" [attr.aria-label]="kiln() + ' is too hot'">
        <button #button type="button" (click)="seen.emit()">Seen</button>
      </div>
    }
  `,
})
export class KilnAlarm {
  readonly ringing = input(false)
  readonly kiln = input.required<string>()
  readonly seen = output<void>()
  private readonly button = viewChild<ElementRef<HTMLButtonElement>>('button')

  constructor() {
    effect(() => this.button()?.nativeElement.focus())
  }
}
