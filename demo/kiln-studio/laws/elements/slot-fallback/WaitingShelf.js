class WaitingShelf extends HTMLElement {
  constructor() {
    super()
    // The flaw: the words for an empty shelf stay when it is filled.
    this.attachShadow({ mode: 'open' }).innerHTML = '<section><slot>Nothing here yet</slot><p>Nothing here yet</p></section>'
  }
}

customElements.define('waiting-shelf', WaitingShelf)
