import { Component, input, signal } from '@angular/core'

/** A drawer that a press, Enter or Space opens and shuts. */
@Component({
  selector: 'tool-drawer',
  template: `
    <div
      role="button"
      tabindex="0"
      [attr.aria-expanded]="open()"
      (click)="turn($event)"
      (keydown.enter)="turn($event)"
      (keydown.space)="turn($event)"
    >Tools</div>
    @if (open()) { <p>In it: {{ tools() }}</p> }
  `,
})
export class ToolDrawer {
  /** What lies in it. */
  readonly tools = input.required<string>()
  protected readonly open = signal(false)

  protected turn(event: Event) {
    event.preventDefault()
    this.open.set(!this.open())
  }
}
