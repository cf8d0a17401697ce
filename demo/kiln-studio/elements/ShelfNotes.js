/** @fires take - A piece is wanted, by its id. */
class ShelfNotes extends HTMLElement {
  #shelf = 0
  #pieces = []
  #rows = new Map()
  #note = Object.assign(document.createElement('p'), { ariaLabel: 'Note' })
  #list = document.createElement('ul')
  /**
   * Which shelf it is.
   * @type {number}
   */
  get shelf() { return this.#shelf }
  set shelf(shelf) {
    if (shelf === this.#shelf) return
    this.#shelf = shelf
    if (this.isConnected) this.#ask()
  }
  /**
   * What stands on it.
   * @type {{ id: string, name: string, glaze: string }[]}
   */
  get pieces() { return this.#pieces }
  set pieces(pieces) {
    this.#pieces = pieces
    const known = this.#rows
    this.#rows = new Map(pieces.map((piece) => [piece.id, known.get(piece.id) ?? this.#row(piece)]))
    this.#list.replaceChildren(...this.#rows.values())
  }

  connectedCallback() {
    const section = Object.assign(document.createElement('section'), { ariaLabel: 'Shelf' })
    section.append(this.#note, this.#list)
    this.replaceChildren(section)
    this.#ask()
  }

  #row(piece) {
    const row = document.createElement('li')
    const glaze = Object.assign(document.createElement('span'), { textContent: piece.glaze })
    const button = Object.assign(document.createElement('button'), { type: 'button', textContent: piece.name, ariaExpanded: 'false' })
    button.onclick = () => {
      const opens = !glaze.isConnected
      button.ariaExpanded = String(opens)
      if (opens) button.after(glaze)
      else glaze.remove()
    }
    const take = Object.assign(document.createElement('button'), { type: 'button', textContent: `Take ${piece.name} down` })
    take.onclick = () => this.dispatchEvent(new CustomEvent('take', { detail: piece.id }))
    row.append(button, take)
    return row
  }

  async #ask() {
    const shelf = this.#shelf
    this.#note.textContent = 'Asking'
    const text = await fetch(`/api/shelves/${shelf}/note`).then((reply) => reply.json()).then((note) => note.text, () => 'Nobody knows')
    // A reply that comes late is not of the shelf that is shown by then.
    if (shelf === this.#shelf) this.#note.textContent = text
  }
}

customElements.define('shelf-notes', ShelfNotes)
