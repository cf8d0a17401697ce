import { Component, effect, input, signal } from '@angular/core'

@Component({ selector: 'late-note', template: '<strong>{{ note() }}</strong>' })
export class LateNote {
  readonly shelf = input.required<number>()
  protected readonly note = signal('Asking')

  constructor() {
    effect(async () => {
      const reply = await fetch(`/api/shelves/${this.shelf()}/note`)
      // The flaw: it may be another shelf by now.
      this.note.set((await reply.json()).text)
    })
  }
}
