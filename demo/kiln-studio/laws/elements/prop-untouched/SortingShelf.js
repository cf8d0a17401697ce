class SortingShelf extends HTMLElement {
  #pieces = []
  /**
   * What stands on the shelf.
   * @type {string[]}
   */
  get pieces() { return this.#pieces }
  set pieces(pieces) {
    // The flaw: `sort` sorts the parent's own list.
    this.#pieces = pieces.sort()
    this.replaceChildren(...this.#pieces.map((piece) => Object.assign(document.createElement('p'), { textContent: piece })))
  }
}

customElements.define('sorting-shelf', SortingShelf)
