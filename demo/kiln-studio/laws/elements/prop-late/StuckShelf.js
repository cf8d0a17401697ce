class StuckShelf extends HTMLElement {
  #pieces
  #isKnown
  /**
   * What stands on the shelf; nothing while it is not known yet.
   * @type {string[] | undefined}
   */
  get pieces() { return this.#pieces }
  set pieces(pieces) {
    this.#pieces = pieces
    if (this.#isKnown) this.#show()
  }
  connectedCallback() {
    // The flaw: whether there is anything to show is decided once.
    this.#isKnown = this.#pieces !== undefined
    this.#show()
  }
  #show() {
    const rows = this.#isKnown ? this.#pieces : ['Not known yet']
    this.replaceChildren(...rows.map((piece) => Object.assign(document.createElement('p'), { textContent: piece })))
  }
}

customElements.define('stuck-shelf', StuckShelf)
