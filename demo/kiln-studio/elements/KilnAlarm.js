/** @fires seen - Somebody has seen it. */
class KilnAlarm extends HTMLElement {
  static observedAttributes = ['ringing', 'kiln']
  /**
   * Whether it rings.
   * @type {boolean}
   */
  get ringing() { return this.hasAttribute('ringing') }
  set ringing(ringing) { this.toggleAttribute('ringing', Boolean(ringing)) }
  /**
   * Which kiln is too hot.
   * @type {string}
   */
  get kiln() { return this.getAttribute('kiln') ?? '' }
  set kiln(kiln) { this.setAttribute('kiln', kiln) }

  connectedCallback() { this.#show() }
  attributeChangedCallback() { if (this.isConnected) this.#show() }

  #show() {
    if (!this.ringing) return this.replaceChildren()
    const dialog = this.firstElementChild ?? this.#dialog()
    dialog.ariaLabel = `${this.kiln} is too hot`
    if (!dialog.isConnected) this.append(dialog)
    dialog.firstElementChild.focus()
  }

  #dialog() {
    const dialog = document.createElement('div')
    dialog.setAttribute('role', 'alertdialog')
    dialog.ariaModal = 'true'
    const button = Object.assign(document.createElement('button'), { type: 'button', textContent: 'Seen' })
    button.onclick = () => this.dispatchEvent(new CustomEvent('seen'))
    dialog.append(button)
    return dialog
  }
}

customElements.define('kiln-alarm', KilnAlarm)
