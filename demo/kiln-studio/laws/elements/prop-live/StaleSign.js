class StaleSign extends HTMLElement {
  #label = ''
  /**
   * What it says.
   * @type {string}
   */
  get label() { return this.#label }
  // The flaw: once it says something it goes on saying it.
  set label(label) {
    this.#label = label
    if (this.textContent === '') this.textContent = label
  }
}

customElements.define('stale-sign', StaleSign)
