class LateNote extends HTMLElement {
  #shelf = 0
  #note = document.createElement('strong')
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

  connectedCallback() {
    this.#note.textContent = 'Asking'
    this.replaceChildren(this.#note)
    this.#ask()
  }

  async #ask() {
    const reply = await fetch(`/api/shelves/${this.#shelf}/note`)
    // The flaw: it may be another shelf by now.
    this.#note.textContent = (await reply.json()).text
  }
}

customElements.define('late-note', LateNote)
