import { Component, input, output } from '@angular/core'

@Component({
  selector: 'restless-card',
  template: `<section><h3>{{ heading() }}</h3></section>`,
})
export class RestlessCard {
  readonly heading = input.required<string>()
  readonly moved = output<void>()
  private isFirst = true

  // The flaw: every look that the framework takes at its parent counts as a change.
  ngDoCheck() {
    if (!this.isFirst) this.moved.emit()
    this.isFirst = false
  }
}
