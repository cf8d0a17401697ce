import { Component, input, signal } from '@angular/core'

@Component({
  selector: 'slippery-counter',
  template: `
    <!-- The flaw: the button is known by the count, so each press takes it off the page and puts another there. -->
    @for (known of [count()]; track known) {
      <button type="button" [attr.aria-label]="'One more ' + piece()" (click)="count.set(known + 1)">One more</button>
    }
    <output>{{ count() }}</output>
  `,
})
export class SlipperyCounter {
  readonly piece = input.required<string>()
  protected readonly count = signal(0)
}
