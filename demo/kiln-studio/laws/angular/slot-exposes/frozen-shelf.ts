import { NgTemplateOutlet } from '@angular/common'
import { Component, contentChild, input, type TemplateRef } from '@angular/core'

@Component({
  selector: 'frozen-shelf',
  imports: [NgTemplateOutlet],
  template: `<section>{{ room() }} left <ng-container [ngTemplateOutlet]="piece() ?? null" [ngTemplateOutletContext]="told" /></section>`,
})
export class FrozenShelf {
  readonly room = input.required<number>()
  protected readonly piece = contentChild<TemplateRef<{ room: number }>>('piece')
  protected told = { room: 0 }

  // The flaw: what the template gets is counted once.
  ngOnInit() {
    this.told = { room: this.room() }
  }
}
