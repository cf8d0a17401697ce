const HOTTEST = 1300

const template = document.createElement('template')
template.innerHTML = `
  <style>
    :host { display: inline-block }
    .kiln-dial { display: inline-flex; gap: 0.5rem }
    .locked { opacity: 0.6 }
  </style>
  <div class="kiln-dial">
    <label class="label"></label>
    <button type="button" class="lower">Lower</button>
    <input type="number" aria-label="Target" />
    <button type="button" class="raise">Raise</button>
    <output class="reading"></output>
  </div>`

/**
 * Sets the temperature that a kiln climbs to.
 *
 * @fires target-change - the target was set, with the new one
 * @fires fire - the kiln is to climb, with target and unit
 */
export class KilnDial extends HTMLElement {
  static observedAttributes = ['label', 'unit', 'locked']
  #target = 0
  #step = 10

  constructor() {
    super()
    this.attachShadow({ mode: 'open' }).append(template.content.cloneNode(true))
    this.#part('.lower').addEventListener('click', () => this.#turn(-this.step))
    this.#part('.raise').addEventListener('click', () => this.#turn(this.step))
    this.#part('input').addEventListener('input', (event) => {
      const next = Number(event.target.value)
      if (!this.locked && Number.isFinite(next)) this.#set(Math.min(HOTTEST, Math.max(0, next)))
    })
    this.#show()
  }

  /** What the firing is called. */
  get label() { return this.getAttribute('label') ?? '' }
  set label(label) { this.setAttribute('label', label) }
  /**
   * The scale that the target is read in.
   * @type {'C' | 'F'}
   */
  get unit() { return this.getAttribute('unit') ?? 'C' }
  set unit(unit) { this.setAttribute('unit', unit) }
  /** A locked dial cannot be turned. */
  get locked() { return this.hasAttribute('locked') }
  set locked(locked) { this.toggleAttribute('locked', Boolean(locked)) }
  /** Degrees that one press adds or takes. */
  get step() { return this.#step }
  set step(step) { this.#step = step ?? 10 }
  /** Degrees that the kiln climbs to. */
  get target() { return this.#target }
  set target(target) {
    this.#target = Number(target)
    this.#show()
  }
  get reading() { return `${this.#target} °${this.unit}` }

  nudge(degrees) { this.#turn(degrees) }
  reset() { this.#turn(-this.#target) }

  attributeChangedCallback() { this.#show() }

  #part(selector) { return this.shadowRoot.querySelector(selector) }
  #set(target) {
    this.target = target
    this.dispatchEvent(new CustomEvent('target-change', { detail: target }))
  }
  #turn(degrees) {
    if (this.locked) return
    const next = Math.min(HOTTEST, Math.max(0, this.#target + degrees))
    if (next === this.#target) return
    this.#set(next)
    this.dispatchEvent(new CustomEvent('fire', { detail: { target: next, unit: this.unit } }))
  }
  #show() {
    const label = this.#part('.label')
    if (this.label === '') label?.remove()
    else if (label) label.textContent = this.label
    else this.#part('.kiln-dial').prepend(Object.assign(document.createElement('label'), { className: 'label', textContent: this.label }))
    this.#part('.kiln-dial').classList.toggle('locked', this.locked)
    for (const control of this.shadowRoot.querySelectorAll('button, input')) control.disabled = this.locked
    this.#part('input').value = String(this.#target)
    this.#part('.reading').textContent = this.reading
  }
}

customElements.define('kiln-dial', KilnDial)
