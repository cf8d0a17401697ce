import { ChangeDetectorRef, Component, Input, OnChanges, OnDestroy } from '@angular/core'
import { Observable, Subscription } from 'rxjs'
import { Piece, PieceStore } from '../piece-store'

/** The same register as its older sister: a module declares it, and it marks itself as changed. */
@Component({
  selector: 'app-kiln-register',
  standalone: false,
  templateUrl: './kiln-register.component.html',
})
export class KilnRegisterComponent implements OnChanges, OnDestroy {
  @Input({ required: true }) shelf!: string

  pieces: Piece[] | null = null
  failed = false
  problem = ''
  private coming?: Subscription
  private readonly changing = new Subscription()

  constructor(
    private readonly store: PieceStore,
    private readonly changes: ChangeDetectorRef,
  ) {}

  ngOnChanges() {
    this.load()
  }

  ngOnDestroy() {
    this.coming?.unsubscribe()
    this.changing.unsubscribe()
  }

  load() {
    this.coming?.unsubscribe()
    this.pieces = null
    this.failed = false
    this.problem = ''
    this.coming = this.store.all(this.shelf).subscribe({
      next: (pieces) => this.show(() => (this.pieces = pieces)),
      error: () =>
        this.show(() => {
          this.failed = true
          this.problem = 'The shelf cannot be read'
        }),
    })
  }

  add(field: HTMLInputElement) {
    const name = field.value.trim()
    if (!name) return
    this.change(this.store.add(this.shelf, name), (piece) => {
      this.pieces = [...(this.pieces ?? []), piece]
      field.value = ''
    })
  }

  rename(piece: Piece, name: string) {
    this.change(this.store.rename(piece, name), (saved) => {
      this.pieces = (this.pieces ?? []).map((p) => (p.id === piece.id ? { ...p, name: saved.name } : p))
    })
  }

  remove(piece: Piece) {
    this.change(this.store.remove(piece), () => {
      this.pieces = (this.pieces ?? []).filter((p) => p.id !== piece.id)
    })
  }

  byId(_: number, piece: Piece) {
    return piece.id
  }

  private change<T>(coming: Observable<T>, done: (value: T) => void) {
    this.problem = ''
    this.changing.add(
      coming.subscribe({
        next: (value) => this.show(() => done(value)),
        error: () => this.show(() => (this.problem = 'It is not done')),
      }),
    )
  }

  private show(change: () => void) {
    change()
    this.changes.markForCheck()
  }
}
