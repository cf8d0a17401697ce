/** @fires open-change - the vent was turned over, with how it stands now */
class EchoVent extends HTMLElement {
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
    const before = this.#open
    this.#open = Boolean(open)
    this.#show()
    // The flaw: what the parent sets is told to the parent.
    if (before !== this.#open) this.dispatchEvent(new CustomEvent('open-change', { detail: this.#open }))
  }
  #press() { this.open = !this.#open }
  #show() { this.#button.setAttribute('aria-checked', String(this.#open)) }
}

customElements.define('echo-vent', EchoVent)
