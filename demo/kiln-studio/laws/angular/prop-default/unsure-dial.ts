import { Component, Input, type SimpleChanges } from '@angular/core'

@Component({
  selector: 'unsure-dial',
  template: `<output>600 @if (isGiven) { <abbr>°{{ unit }}</abbr> }</output>`,
})
export class UnsureDial {
  @Input() unit: 'C' | 'F' = 'C'
  protected isGiven = false

  // The flaw: it asks whether the unit was passed, though the default was meant to answer that.
  ngOnChanges(changes: SimpleChanges) {
    this.isGiven = 'unit' in changes
  }
}
