/** @fires pick - a glaze was picked */
class JumpyPicker extends HTMLElement {
  #glaze = 'Ash'
  constructor() {
    super()
    this.attachShadow({ mode: 'open' }).innerHTML = '<button type="button">Pick</button>'
    this.shadowRoot.firstChild.addEventListener('click', () => this.#tell())
  }
  /**
   * The glaze that is picked.
   * @type {string}
   */
  get glaze() { return this.#glaze }
  set glaze(glaze) {
    const is = String(glaze ?? '')
    if (is === this.#glaze) return
    this.#glaze = is
    this.shadowRoot.firstChild.textContent = `Pick ${is}`
    // The flaw: another glaze of the parent's is told as if somebody had picked it.
    if (this.isConnected) this.#tell()
  }
  #tell() { this.dispatchEvent(new CustomEvent('pick')) }
}

customElements.define('jumpy-picker', JumpyPicker)
