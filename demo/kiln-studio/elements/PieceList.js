/**
 * The pieces on a shelf; each can be taken down.
 *
 * @fires {CustomEvent<string>} taken - a piece is to be taken down, with its name
 */
class PieceList extends HTMLElement {
  #pieces = []
  /** The row of each piece, so that a row goes where its piece goes. */
  #rows = new Map()

  /**
   * The names of the pieces.
   * @type {string[]}
   */
  get pieces() { return this.#pieces }
  set pieces(pieces) {
    this.#pieces = pieces ?? []
    const rows = this.#pieces.map((piece) => this.#rows.get(piece) ?? this.#row(piece))
    for (const [piece, row] of this.#rows) if (!this.#pieces.includes(piece)) { row.remove(); this.#rows.delete(piece) }
    this.append(...rows)
  }

  #row(piece) {
    const row = document.createElement('p')
    const button = Object.assign(document.createElement('button'), { type: 'button', textContent: 'Take down' })
    button.setAttribute('aria-label', `Take down ${piece}`)
    button.addEventListener('click', () => this.dispatchEvent(new CustomEvent('taken', { detail: piece })))
    row.append(document.createTextNode(piece), button)
    this.#rows.set(piece, row)
    return row
  }
}

customElements.define('piece-list', PieceList)
