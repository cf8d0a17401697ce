import { Component, DestroyRef, effect, inject, input, signal } from '@angular/core'
import { takeUntilDestroyed } from '@angular/core/rxjs-interop'
import { Piece, PieceStore } from '../piece-store'
import { PieceRow } from './piece-row'

/** The pieces of a shelf: they come from the server, and what a person changes goes there first. */
@Component({
  selector: 'kiln-register',
  imports: [PieceRow],
  template: `
    <section aria-label="Register">
      @if (problem()) {
        <p role="alert">{{ problem() }}</p>
      }
      @if (pieces(); as all) {
        <ul>
          @for (piece of all; track piece.id) {
            <li><piece-row [piece]="piece" (renamed)="rename(piece, $event)" (removed)="remove(piece)" /></li>
          } @empty {
            <li class="empty">No pieces yet</li>
          }
        </ul>
        <input #name aria-label="New piece" />
        <button type="button" (click)="add(name)">Add</button>
      } @else if (failed()) {
        <button type="button" (click)="tries.set(tries() + 1)">Try again</button>
      } @else {
        <p role="status">Loading</p>
      }
    </section>
  `,
})
export class KilnRegister {
  readonly shelf = input.required<string>()

  protected readonly pieces = signal<Piece[] | null>(null)
  protected readonly failed = signal(false)
  protected readonly problem = signal('')
  protected readonly tries = signal(0)
  private readonly store = inject(PieceStore)
  private readonly destroyed = inject(DestroyRef)

  constructor() {
    effect((onCleanup) => {
      const shelf = this.shelf()
      this.tries()
      this.pieces.set(null)
      this.failed.set(false)
      this.problem.set('')
      const coming = this.store.all(shelf).subscribe({
        next: (pieces) => this.pieces.set(pieces),
        error: () => {
          this.failed.set(true)
          this.problem.set('The shelf cannot be read')
        },
      })
      onCleanup(() => coming.unsubscribe())
    })
  }

  protected add(field: HTMLInputElement) {
    const name = field.value.trim()
    if (!name) return
    this.change(this.store.add(this.shelf(), name), (piece) => {
      this.pieces.set([...(this.pieces() ?? []), piece])
      field.value = ''
    })
  }

  protected rename(piece: Piece, name: string) {
    this.change(this.store.rename(piece, name), (saved) =>
      this.pieces.set((this.pieces() ?? []).map((p) => (p.id === piece.id ? { ...p, name: saved.name } : p))),
    )
  }

  protected remove(piece: Piece) {
    this.change(this.store.remove(piece), () => this.pieces.set((this.pieces() ?? []).filter((p) => p.id !== piece.id)))
  }

  private change<T>(coming: import('rxjs').Observable<T>, done: (value: T) => void) {
    this.problem.set('')
    coming.pipe(takeUntilDestroyed(this.destroyed)).subscribe({ next: done, error: () => this.problem.set('It is not done') })
  }
}
