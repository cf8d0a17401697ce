class TwinSign extends HTMLElement {
  connectedCallback() {
    // The flaw: a second field on the page has the same id.
    this.innerHTML = '<label for="glaze-field">Glaze</label><input id="glaze-field" aria-label="Glaze">'
  }
}

customElements.define('twin-sign', TwinSign)
