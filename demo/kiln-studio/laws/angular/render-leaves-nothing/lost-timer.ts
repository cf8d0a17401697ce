import { Component, input, signal } from '@angular/core'

@Component({
  selector: 'lost-timer',
  template: `<p>{{ label() }} <time>{{ minutes() }} min</time></p>`,
})
export class LostTimer {
  readonly label = input.required<string>()
  protected readonly minutes = signal(0)

  constructor() {
    // The flaw: nobody stops the timer.
    setInterval(() => this.minutes.update((minutes) => minutes + 1), 60_000)
  }
}
