/** A drawer that a press, Enter or Space opens and shuts. */
class ToolDrawer extends HTMLElement {
  #open = false
  #handle = document.createElement('div')
  #inside = document.createElement('p')
  #tools = ''
  constructor() {
    super()
    this.#handle.setAttribute('role', 'button')
    this.#handle.tabIndex = 0
    this.#handle.textContent = 'Tools'
    this.attachShadow({ mode: 'open' }).append(this.#handle, this.#inside)
    this.#handle.addEventListener('click', () => this.#turn())
    this.#handle.addEventListener('keydown', (event) => {
      if (event.key !== 'Enter' && event.key !== ' ') return
      event.preventDefault()
      this.#turn()
    })
    this.#show()
  }
  /**
   * What lies in it.
   * @type {string}
   */
  get tools() { return this.#tools }
  set tools(tools) {
    this.#tools = String(tools ?? '')
    this.#show()
  }
  #turn() {
    this.#open = !this.#open
    this.#show()
  }
  #show() {
    this.#handle.setAttribute('aria-expanded', String(this.#open))
    this.#inside.textContent = `In it: ${this.#tools}`
    this.#inside.hidden = !this.#open
  }
}

customElements.define('tool-drawer', ToolDrawer)
