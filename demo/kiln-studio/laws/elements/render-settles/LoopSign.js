class LoopSign extends HTMLElement {
  #port
  connectedCallback() {
    this.innerHTML = '<output aria-label="Heat">0</output>'
    let heat = 0
    // The flaw: each turn of the loop starts the next one.
    const { port1, port2 } = new MessageChannel()
    port1.onmessage = () => {
      heat = (heat + 1) % 7
      this.firstChild.textContent = heat
      port2.postMessage(null)
    }
    port2.postMessage(null)
    this.#port = port1
  }
  disconnectedCallback() { this.#port.close() }
}

customElements.define('loop-sign', LoopSign)
