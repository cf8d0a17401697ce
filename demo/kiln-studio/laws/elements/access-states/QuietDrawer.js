class QuietDrawer extends HTMLElement {
  constructor() {
    super()
    this.attachShadow({ mode: 'open' }).innerHTML = '<button type="button" aria-expanded="false">Tools</button><p hidden>Rib and sponge</p>'
    const [button, tools] = this.shadowRoot.children
    // The flaw: the button says for ever that the drawer is shut.
    button.addEventListener('click', () => { tools.hidden = !tools.hidden })
  }
}

customElements.define('quiet-drawer', QuietDrawer)
