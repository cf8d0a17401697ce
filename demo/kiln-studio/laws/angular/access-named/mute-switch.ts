import { Component, input, output } from '@angular/core'

@Component({
  selector: 'mute-switch',
  template: `
    <p>{{ glaze() }}
      <!-- The flaw: a picture says what the button does, and nothing else. -->
      <button type="button" class="remove" (click)="removed.emit()"><svg viewBox="0 0 8 8"><path d="M1 1 7 7M7 1 1 7" /></svg></button>
    </p>
  `,
})
export class MuteSwitch {
  readonly glaze = input.required<string>()
  readonly removed = output<void>()
}
