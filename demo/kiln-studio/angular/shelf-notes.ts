import { Component, effect, input, output, signal } from '@angular/core'

interface Piece {
  id: string
  name: string
  glaze: string
}

@Component({
  selector: 'shelf-notes',
  template: `
    <section aria-label="Shelf">
      <p aria-label="Note">{{ note() }}</p>
      <ul>
        @for (piece of pieces(); track piece.id) {
          <li>
            <button type="button" [attr.aria-expanded]="open().includes(piece.id)" (click)="toggle(piece.id)">{{ piece.name }}</button>
            @if (open().includes(piece.id)) {
              <span>{{ piece.glaze }}</span>
            }
            <button type="button" (click)="take.emit(piece.id)">Take {{ piece.name }} down</button>
          </li>
        }
      </ul>
    </section>
  `,
})
export class ShelfNotes {
  readonly shelf = input.required<number>()
  readonly pieces = input.required<Piece[]>()
  readonly take = output<string>()
  protected readonly note = signal('Asking')
  protected readonly open = signal<string[]>([])

  constructor() {
    effect((onCleanup) => {
      // A reply that comes late is not of the shelf that is shown by then.
      let current = true
      onCleanup(() => (current = false))
      this.note.set('Asking')
      fetch(`/api/shelves/${this.shelf()}/note`)
        .then((reply) => reply.json())
        .then(({ text }) => current && this.note.set(text))
        .catch(() => current && this.note.set('Nobody knows'))
    })
  }

  protected toggle(id: string) {
    this.open.update((all) => (all.includes(id) ? all.filter((o) => o !== id) : [...all, id]))
  }
}
