class MuteVent extends HTMLElement {
  connectedCallback() {
    // The flaw: a picture says what the button does, and nothing else.
    this.innerHTML = '<button type="button" class="turn"><svg viewBox="0 0 8 8"><path d="M1 1 7 7M7 1 1 7" /></svg></button>'
  }
}

customElements.define('mute-vent', MuteVent)
