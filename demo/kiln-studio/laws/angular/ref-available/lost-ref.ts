import { Component, computed, type ElementRef, input, viewChild } from '@angular/core'

@Component({
  selector: 'lost-ref',
  template: `<label>{{ label() }}<input #entry aria-label="Entry" /></label>`,
})
export class LostRef {
  readonly label = input.required<string>()
  // The flaw: the template calls the field by another name.
  private readonly found = viewChild<ElementRef<HTMLInputElement>>('field')
  readonly field = computed(() => this.found()?.nativeElement)
}
