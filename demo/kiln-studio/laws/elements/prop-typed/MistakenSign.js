class MistakenSign extends HTMLElement {
  #glaze = ''
  #cone = null
  /** @type {string} */
  get glaze() { return this.#glaze }
  set glaze(glaze) { this.#glaze = glaze; this.#show() }
  /** @type {number | null} */
  get cone() { return this.#cone }
  set cone(cone) { this.#cone = cone; this.#show() }
  #show() {
    this.innerHTML = '<span class="badge"></span>'
    this.firstChild.textContent = `${this.#glaze}, cone ${this.#cone ?? 'unknown'}`
  }
}

customElements.define('mistaken-sign', MistakenSign)
