const shine = { gloss: [90], satin: [40] }

class BrokenSign extends HTMLElement {
  #finish = 'gloss'
  /**
   * How the glaze looks.
   * @type {'gloss' | 'satin' | 'matte'}
   */
  get finish() { return this.#finish }
  // The flaw: the table has no entry for a finish that is declared.
  set finish(finish) { this.#finish = finish; this.textContent = `${finish}: ${shine[finish][0]}` }
}

customElements.define('broken-sign', BrokenSign)
