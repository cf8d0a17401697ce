import { Component, type ElementRef, output, signal, viewChild } from '@angular/core'

export interface Piece {
  id: number
  name: string
  glaze: string
}

@Component({
  selector: 'piece-form',
  template: `
    <form class="piece-form" aria-label="New piece" (submit)="send($event)">
      <label>Name <input #entry [value]="name()" (input)="name.set(entry.value)" /></label>
      <label>Glaze
        <select #choice (change)="glaze.set(choice.value)">
          @for (one of glazes; track one) { <option [selected]="one === glaze()">{{ one }}</option> }
        </select>
      </label>
      <button [disabled]="sending()">{{ sending() ? 'Sending' : 'Add' }}</button>
      @if (problem()) { <p role="alert">{{ problem() }}</p> }
    </form>
  `,
})
export class PieceForm {
  readonly added = output<Piece>()

  protected readonly glazes = ['Tenmoku', 'Celadon', 'Shino']
  protected readonly name = signal('')
  protected readonly glaze = signal('Tenmoku')
  protected readonly problem = signal('')
  protected readonly sending = signal(false)
  private readonly entry = viewChild.required<ElementRef<HTMLInputElement>>('entry')

  get field() {
    return this.entry().nativeElement
  }

  protected async send(event: Event) {
    event.preventDefault()
    const name = this.name().trim()
    this.problem.set(name === '' ? 'A piece needs a name' : '')
    if (name === '') return this.field.focus()
    this.sending.set(true)
    try {
      const reply = await fetch('/api/pieces', {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify({ name, glaze: this.glaze() }),
      })
      if (!reply.ok) throw new Error(String(reply.status))
      this.added.emit(await reply.json())
      this.name.set('')
    } catch {
      this.problem.set('The shelf could not be reached')
    } finally {
      this.sending.set(false)
    }
  }
}
