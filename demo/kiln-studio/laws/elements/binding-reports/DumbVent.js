/** @fires open-change - the vent was turned over, with how it stands now */
class DumbVent extends HTMLElement {
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
  set open(open) {
    this.#open = Boolean(open)
    this.#show()
  }
  #press() {
    // The flaw: it reports what was, not what is.
    this.dispatchEvent(new CustomEvent('open-change', { detail: this.#open }))
  }
  #show() { this.#button.setAttribute('aria-checked', String(this.#open)) }
}

customElements.define('dumb-vent', DumbVent)
