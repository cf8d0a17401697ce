import { Component, computed, input, model, output } from '@angular/core'

@Component({
  selector: 'piece-count',
  template: `
    <section class="piece-count">
      <h3>{{ pieces() }} of {{ most() }}</h3>
      <button type="button" [disabled]="locked() || room() === 0" (click)="add()">Add a piece</button>
      @if (room() === 0) {<p role="status">The shelf is full</p>}
    </section>
  `,
})
export class PieceCount {
  readonly pieces = model.required<number>()
  readonly most = input(12)
  readonly locked = input(false)
  readonly full = output<void>()
  readonly room = computed(() => Math.max(0, this.most() - this.pieces()))

  add() {
    const room = this.room()
    if (this.locked() || room === 0) return
    this.pieces.update((pieces) => pieces + 1)
    if (room === 1) this.full.emit()
  }
}
