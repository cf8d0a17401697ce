/**
 * @fires open-change - the vent was turned over, with how it stands now
 * @fires vent-toggle - the same, for the diary
 */
class LateNewsVent extends HTMLElement {
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
    const was = this.#open
    this.open = !was
    this.dispatchEvent(new CustomEvent('open-change', { detail: this.#open }))
    // The flaw: the news of the toggle is of yesterday.
    this.dispatchEvent(new CustomEvent('vent-toggle', { detail: was }))
  }
  #show() { this.#button.setAttribute('aria-checked', String(this.#open)) }
}

customElements.define('late-news-vent', LateNewsVent)
