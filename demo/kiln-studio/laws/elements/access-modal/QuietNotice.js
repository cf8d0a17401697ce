class QuietNotice extends HTMLElement {
  static observedAttributes = ['open']
  /**
   * Whether it is shown.
   * @type {boolean}
   */
  get open() { return this.hasAttribute('open') }
  set open(open) { this.toggleAttribute('open', Boolean(open)) }

  connectedCallback() { this.#show() }
  attributeChangedCallback() { if (this.isConnected) this.#show() }

  #show() {
    // The flaw: who cannot see it is not told that it is there.
    this.innerHTML = this.open ? '<div role="dialog" aria-modal="true" aria-label="Kiln too hot"><button type="button">Vent</button></div>' : ''
  }
}

customElements.define('quiet-notice', QuietNotice)
