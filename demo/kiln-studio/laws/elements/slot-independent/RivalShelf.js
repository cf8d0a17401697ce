class RivalShelf extends HTMLElement {
  constructor() {
    super()
    const root = this.attachShadow({ mode: 'open' })
    root.innerHTML = '<header><slot name="heading"></slot></header><footer><slot name="footer"></slot></footer>'
    const [heading, footer] = root.querySelectorAll('slot')
    // The flaw: there is a footer only where there is no heading.
    heading.addEventListener('slotchange', () => { footer.name = heading.assignedNodes().length ? 'none' : 'footer' })
  }
}

customElements.define('rival-shelf', RivalShelf)
