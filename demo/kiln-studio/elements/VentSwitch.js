/**
 * Opens and shuts the vent of a kiln.
 *
 * @fires open-change - the vent was turned over, with how it stands now
 */
class VentSwitch extends HTMLElement {
  static observedAttributes = ['label', 'open', 'disabled']
  #button

  constructor() {
    super()
    const root = this.attachShadow({ mode: 'open', delegatesFocus: true })
    root.innerHTML = '<button type="button" role="switch" class="vent-switch"><span class="label"></span> <span class="state"></span></button>'
    this.#button = root.querySelector('button')
    this.#button.addEventListener('click', () => {
      this.open = !this.open
      this.dispatchEvent(new CustomEvent('open-change', { detail: this.open }))
    })
    this.#show()
  }

  get label() { return this.getAttribute('label') ?? '' }
  set label(label) { this.setAttribute('label', label) }
  get open() { return this.hasAttribute('open') }
  set open(open) { this.toggleAttribute('open', Boolean(open)) }
  get disabled() { return this.hasAttribute('disabled') }
  set disabled(disabled) { this.toggleAttribute('disabled', Boolean(disabled)) }

  attributeChangedCallback() { this.#show() }

  #show() {
    this.#button.querySelector('.label').textContent = this.label
    this.#button.querySelector('.state').textContent = this.open ? 'open' : 'shut'
    this.#button.setAttribute('aria-checked', String(this.open))
    this.#button.disabled = this.disabled
  }
}

customElements.define('vent-switch', VentSwitch)
