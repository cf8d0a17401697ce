/** @fires open-change - the vent was turned over, with how it stands now */
class DeafVent extends HTMLElement {
  #open = false
  #button = document.createElement('button')
  constructor() {
    super()
    this.#button.type = 'button'
    this.#button.setAttribute('role', 'switch')
    this.#button.textContent = 'Vent'
    this.attachShadow({ mode: 'open' }).append(this.#button)
    this.#button.addEventListener('click', () => this.#press())
    this.#show()
  }
  /**
   * Whether the vent is open.
   * @type {boolean}
   */
  get open() { return this.#open }
  // The flaw: after the first time nothing is shown any more.
  set open(open) {
    this.#open = Boolean(open)
    if (!this.isConnected) this.#show()
  }
  #press() {
    this.#open = !this.#open
    this.#show()
    this.dispatchEvent(new CustomEvent('open-change', { detail: this.#open }))
  }
  #show() { this.#button.setAttribute('aria-checked', String(this.#open)) }
}

customElements.define('deaf-vent', DeafVent)
