/** @fires flip - the vent was turned over */
class AwakeVent extends HTMLElement {
  static observedAttributes = ['disabled']
  get disabled() { return this.hasAttribute('disabled') }
  set disabled(disabled) { this.toggleAttribute('disabled', Boolean(disabled)) }
  constructor() {
    super()
    this.attachShadow({ mode: 'open' }).innerHTML = '<div role="button" tabindex="0">Vent</div>'
    // The flaw: it says that it is disabled and acts all the same.
    this.shadowRoot.firstChild.addEventListener('click', () => this.#flip())
    this.shadowRoot.firstChild.addEventListener('keydown', (event) => { if (event.key === 'Enter') this.#flip() })
  }
  #flip() { this.dispatchEvent(new CustomEvent('flip')) }
  attributeChangedCallback() { this.shadowRoot.firstChild.setAttribute('aria-disabled', String(this.disabled)) }
}

customElements.define('awake-vent', AwakeVent)
