import { Component, input, output, signal } from '@angular/core'

@Component({
  selector: 'piece-ledger',
  template: `
    <section class="piece-ledger" aria-label="Pieces">
      @if (entries().length === 0) {
        <p class="empty">No pieces yet</p>
      } @else {
        <ol>
          @for (piece of entries(); track piece.id) {
            <li>
              <span class="name">{{ piece.name }}</span> <span class="glaze">{{ piece.glaze }}</span>
              <button type="button" [attr.aria-label]="'Remove ' + piece.name" (click)="remove(piece.id)">×</button>
            </li>
          }
        </ol>
      }
      @if (problem()) { <p role="alert">{{ problem() }}</p> }
    </section>
  `,
})
export class PieceLedger {
  readonly entries = input.required<{ id: number; name: string; glaze: string }[]>()
  readonly removed = output<number>()
  protected readonly problem = signal('')

  protected async remove(id: number) {
    this.problem.set('')
    const reply = await fetch(`/api/pieces/${id}`, { method: 'DELETE' }).catch(() => null)
    if (reply?.ok) this.removed.emit(id)
    else this.problem.set('It is still on the shelf')
  }
}
