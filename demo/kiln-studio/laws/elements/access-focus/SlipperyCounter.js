class SlipperyCounter extends HTMLElement {
  #count = 0
  constructor() {
    super()
    this.attachShadow({ mode: 'open' })
    this.#show()
  }
  #show() {
    // The flaw: all is written anew, the button under the hand too.
    this.shadowRoot.innerHTML = `<button type="button">One more</button><output>${this.#count}</output>`
    this.shadowRoot.firstChild.addEventListener('click', () => {
      this.#count++
      this.#show()
    })
  }
}

customElements.define('slippery-counter', SlipperyCounter)
