/** @fires pick - the glaze was picked */
class MouseOnlyTile extends HTMLElement {
  constructor() {
    super()
    // The flaw: it is called a button and takes the focus, and no key works it.
    this.attachShadow({ mode: 'open' }).innerHTML = '<div role="button" tabindex="0">Pick</div>'
    this.shadowRoot.firstChild.addEventListener('click', () => this.dispatchEvent(new CustomEvent('pick')))
  }
}

customElements.define('mouse-only-tile', MouseOnlyTile)
