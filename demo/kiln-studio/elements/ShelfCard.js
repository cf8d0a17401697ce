const template = document.createElement('template')
template.innerHTML = `
  <style>:host { display: block }</style>
  <section class="shelf-card">
    <header class="heading"><slot name="heading"><span class="title"></span></slot></header>
    <div class="pieces"><slot><p class="empty">Nothing on this shelf yet</p></slot></div>
    <footer class="footer"><slot name="footer"><span class="count"></span></slot></footer>
  </section>`

/** A shelf of the drying rack, with what stands on it. */
export class ShelfCard extends HTMLElement {
  static observedAttributes = ['title', 'capacity', 'count']

  constructor() {
    super()
    this.attachShadow({ mode: 'open' }).append(template.content.cloneNode(true))
    this.#show()
  }

  get title() { return this.getAttribute('title') ?? 'Shelf' }
  set title(title) { this.setAttribute('title', title) }
  /**
   * How many pieces the shelf holds.
   * @type {number}
   */
  get capacity() { return Number(this.getAttribute('capacity') ?? 3) }
  set capacity(capacity) { this.setAttribute('capacity', String(capacity)) }
  /**
   * How many stand on it.
   * @type {number}
   */
  get count() { return Number(this.getAttribute('count') ?? 0) }
  set count(count) { this.setAttribute('count', String(count)) }

  attributeChangedCallback() { this.#show() }

  #show() {
    const part = (selector) => this.shadowRoot.querySelector(selector)
    part('section').setAttribute('aria-label', this.title)
    part('.title').textContent = this.title
    part('.count').textContent = `${this.count} of ${this.capacity}`
  }
}

if (!customElements.get('shelf-card')) customElements.define('shelf-card', ShelfCard)
