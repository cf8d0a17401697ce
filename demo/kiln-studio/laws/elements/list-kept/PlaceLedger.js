class PlaceLedger extends HTMLElement {
  #pieces = []
  #rows = new Map()
  // The flaw: what is open is known by its place, not by its piece.
  #open = -1
  /**
   * What is listed.
   * @type {string[]}
   */
  get pieces() { return this.#pieces }
  set pieces(pieces) {
    this.#pieces = pieces
    this.#show()
  }

  #show() {
    const known = this.#rows
    this.#rows = new Map(this.#pieces.map((piece) => [piece, known.get(piece) ?? document.createElement('button')]))
    const rows = [...this.#rows].map(([piece, row], place) => {
      row.type = 'button'
      row.textContent = `Glaze of ${piece}${this.#open === place ? ': unknown' : ''}`
      row.onclick = () => {
        this.#open = this.#open === place ? -1 : place
        this.#show()
      }
      return row
    })
    this.replaceChildren(...rows)
  }
}

customElements.define('place-ledger', PlaceLedger)
