/** @fires pick - One was chosen. */
class FirstShelf extends HTMLElement {
  #pieces = []
  #rows = new Map()
  /**
   * What stands on the shelf.
   * @type {string[]}
   */
  get pieces() { return this.#pieces }
  set pieces(pieces) {
    this.#pieces = pieces
    const known = this.#rows
    this.#rows = new Map(pieces.map((piece) => [piece, known.get(piece) ?? this.#row(piece)]))
    this.replaceChildren(...this.#rows.values())
  }

  #row(piece) {
    const row = Object.assign(document.createElement('button'), { type: 'button', textContent: piece || 'nameless' })
    // The flaw: whichever is pressed, the first one is told of.
    row.onclick = () => this.dispatchEvent(new CustomEvent('pick', { detail: this.#pieces[0] }))
    return row
  }
}

customElements.define('first-shelf', FirstShelf)
