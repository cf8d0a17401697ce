class RewrittenShelf extends HTMLElement {
  #pieces = []
  /**
   * What stands on the shelf.
   * @type {string[]}
   */
  get pieces() { return this.#pieces }
  set pieces(pieces) {
    this.#pieces = pieces
    // The flaw: a row is known by its place, not by its piece.
    while (this.children.length > pieces.length) this.lastChild.remove()
    pieces.forEach((piece, index) => {
      const row = this.children[index] ?? this.appendChild(document.createElement('button'))
      row.textContent = piece || 'nameless'
    })
  }
}

customElements.define('rewritten-shelf', RewrittenShelf)
