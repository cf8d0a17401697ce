import './ShelfCard.js'

const template = document.createElement('template')
template.innerHTML = `
  <style>:host { display: block }</style>
  <div class="kiln-floor" role="group">
    <shelf-card title="Bisque shelf"><slot name="bisque"></slot><slot name="note" slot="heading"></slot></shelf-card>
    <shelf-card title="Glaze shelf"><slot name="glaze"></slot></shelf-card>
  </div>`

/** The shelves beside a kiln: what is given here goes on to them under the names that they have for it. */
export class KilnFloor extends HTMLElement {
  static observedAttributes = ['name']

  constructor() {
    super()
    this.attachShadow({ mode: 'open' }).append(template.content.cloneNode(true))
  }

  get name() { return this.getAttribute('name') ?? '' }
  set name(name) { this.setAttribute('name', name) }

  attributeChangedCallback() { this.shadowRoot.querySelector('.kiln-floor').setAttribute('aria-label', this.name) }
}

customElements.define('kiln-floor', KilnFloor)
