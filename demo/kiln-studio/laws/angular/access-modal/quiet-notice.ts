import { Component, input } from '@angular/core'

@Component({
  selector: 'quiet-notice',
  template: `
    @if (open()) {
      <!-- The flaw: who cannot see it is not told that it is there. -->
      <div role="dialog" aria-modal="true" aria-label="Kiln too hot"><button type="button">Vent</button></div>
    }
  `,
})
export class QuietNotice {
  readonly open = input(false)
}
