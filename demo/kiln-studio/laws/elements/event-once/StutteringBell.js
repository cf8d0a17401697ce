/** @fires ring - the bell was rung */
class StutteringBell extends HTMLElement {
  constructor() {
    super()
    this.attachShadow({ mode: 'open' }).innerHTML = '<button type="button">Ring</button>'
    this.shadowRoot.firstChild.addEventListener('click', () => {
      // The flaw: one press rings twice.
      this.dispatchEvent(new CustomEvent('ring'))
      this.dispatchEvent(new CustomEvent('ring'))
    })
  }
}

customElements.define('stuttering-bell', StutteringBell)
