class ChanceSign extends HTMLElement {
  // The flaw: what it shows is left to chance.
  #hue = Math.floor(Math.random() * 360)
  static observedAttributes = ['label']
  get label() { return this.getAttribute('label') ?? '' }
  set label(label) { this.setAttribute('label', label) }
  attributeChangedCallback() { this.#show() }
  connectedCallback() { this.#show() }
  #show() {
    this.dataset.hue = this.#hue
    this.textContent = this.label
  }
}

customElements.define('chance-sign', ChanceSign)
