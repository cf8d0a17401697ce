class NoisySign extends HTMLElement {
  static observedAttributes = ['label']
  get label() { return this.getAttribute('label') ?? '' }
  set label(label) { this.setAttribute('label', label) }
  attributeChangedCallback() { this.#show() }
  connectedCallback() { this.#show() }
  #show() {
    // The flaw: a leftover that tells every developer something, each time.
    if (this.label === '') console.warn('a sign needs a label')
    this.textContent = this.label
  }
}

customElements.define('noisy-sign', NoisySign)
