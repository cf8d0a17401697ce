import { Component, EventEmitter, Input, Output } from '@angular/core'

@Component({
  selector: 'vent-switch',
  template: `
    <button type="button" role="switch" class="vent-switch" [attr.aria-checked]="open" [disabled]="disabled" (click)="toggle()">
      {{ label }} <span class="state">{{ open ? 'open' : 'shut' }}</span>
    </button>
  `,
})
export class VentSwitch {
  @Input({ required: true }) label!: string
  @Input() open = false
  @Output() readonly openChange = new EventEmitter<boolean>()
  @Input() disabled = false

  protected toggle() {
    this.open = !this.open
    this.openChange.emit(this.open)
  }
}
