class ListeningSign extends HTMLElement {
  static observedAttributes = ['label']
  get label() { return this.getAttribute('label') ?? '' }
  set label(label) { this.setAttribute('label', label) }
  attributeChangedCallback() { this.textContent = this.label }
  connectedCallback() {
    // The flaw: there is no disconnectedCallback that takes it off again.
    document.addEventListener('visibilitychange', () => this.toggleAttribute('away', document.hidden))
  }
}

customElements.define('listening-sign', ListeningSign)
