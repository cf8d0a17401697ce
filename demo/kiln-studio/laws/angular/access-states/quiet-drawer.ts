import { Component, input, signal } from '@angular/core'

@Component({
  selector: 'quiet-drawer',
  template: `
    <!-- The flaw: the button says for ever that the drawer is shut. -->
    <button type="button" aria-expanded="false" (click)="open.set(!open())">Tools</button>
    @if (open()) { <p>In it: {{ tools() }}</p> }
  `,
})
export class QuietDrawer {
  readonly tools = input.required<string>()
  protected readonly open = signal(false)
}
