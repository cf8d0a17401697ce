import { Component, Input } from '@angular/core'

@Component({
  selector: 'stale-label',
  template: `<strong>{{ shown }}</strong>`,
})
export class StaleLabel {
  @Input({ required: true }) label!: string
  protected shown = ''

  // The flaw: the label is copied once.
  ngOnInit() {
    this.shown = this.label
  }
}
