/**
 * Tags of a clay body, typed in and taken away.
 *
 * @attr {string} label
 * @attr {boolean} disabled
 * @attr {number} max
 * @fires {CustomEvent<string[]>} change - After a tag was added or taken away.
 * @fires {CustomEvent<string>} refuse - When a tag is there already.
 * @slot - Help below the field.
 */
export class ClayTags extends HTMLElement {
  static observedAttributes = ['label', 'disabled', 'max']

  /** @type {string[]} */
  #tags = []

  constructor() {
    super()
    this.attachShadow({ mode: 'open' })
    this.shadowRoot.innerHTML = `
      <style>:host { display: block } .tag { border-radius: 8px }</style>
      <label><span id="label"></span> <input type="text"></label>
      <ul></ul>
      <p role="status"></p>
      <slot></slot>`
    const field = this.shadowRoot.querySelector('input')
    field.addEventListener('keydown', (event) => {
      if (event.key !== 'Enter') return
      event.preventDefault()
      this.#add(field.value.trim())
      field.value = ''
    })
    this.shadowRoot.querySelector('ul').addEventListener('click', (event) => {
      const button = event.target.closest('button')
      if (button) this.#remove(Number(button.dataset.at))
    })
  }

  connectedCallback() {
    this.#render()
  }

  attributeChangedCallback() {
    this.#render()
  }

  /** @type {string[]} */
  get tags() {
    return this.#tags
  }

  set tags(value) {
    this.#tags = Array.isArray(value) ? [...value] : []
    this.#render()
  }

  get disabled() {
    return this.hasAttribute('disabled')
  }

  set disabled(value) {
    this.toggleAttribute('disabled', Boolean(value))
  }

  get max() {
    return Number(this.getAttribute('max') ?? 8)
  }

  set max(value) {
    this.setAttribute('max', value)
  }

  get label() {
    return this.getAttribute('label') ?? 'Tags'
  }

  set label(value) {
    this.setAttribute('label', value)
  }

  #add(tag) {
    if (this.disabled || !tag || this.#tags.length >= this.max) return
    if (this.#tags.includes(tag)) {
      this.dispatchEvent(new CustomEvent('refuse', { detail: tag }))
      return
    }
    this.#tags = [...this.#tags, tag]
    this.#told()
  }

  #remove(at) {
    if (this.disabled) return
    this.#tags = this.#tags.filter((_, i) => i !== at)
    this.#told()
  }

  #told() {
    this.#render()
    this.dispatchEvent(new CustomEvent('change', { detail: [...this.#tags] }))
  }

  #render() {
    const root = this.shadowRoot
    root.querySelector('#label').textContent = this.label
    root.querySelector('input').disabled = this.disabled || this.#tags.length >= this.max
    root.querySelector('ul').replaceChildren(
      ...this.#tags.map((tag, i) => {
        const item = document.createElement('li')
        item.className = 'tag'
        item.append(tag)
        const button = document.createElement('button')
        button.type = 'button'
        button.dataset.at = i
        button.disabled = this.disabled
        button.setAttribute('aria-label', `Remove ${tag}`)
        button.textContent = '×'
        item.append(button)
        return item
      })
    )
    root.querySelector('p').textContent = this.#tags.length >= this.max ? `No more than ${this.max}` : ''
  }
}

customElements.define('clay-tags', ClayTags)
