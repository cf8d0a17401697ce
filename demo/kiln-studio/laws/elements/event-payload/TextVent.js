/** @fires {CustomEvent<number>} turned - the vent was turned, with the degrees that it stands at */
class TextVent extends HTMLElement {
  connectedCallback() {
    this.innerHTML = '<button type="button">Turn</button>'
    // The flaw: a text where a number is declared.
    this.firstChild.addEventListener('click', () => this.dispatchEvent(new CustomEvent('turned', { detail: '90' })))
  }
}

customElements.define('text-vent', TextVent)
