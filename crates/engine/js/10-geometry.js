// Points, quadrilaterals and matrices (Geometry Interfaces Module 1), made when somebody first asks for one.

let madeGeometry;
const geometry = () => (madeGeometry ??= makeGeometry());
const makeGeometry = () => {
  const finite = (v) => (v === undefined ? 0 : Number(v));

  class DOMPointReadOnly {
    constructor(x = 0, y = 0, z = 0, w = 1) { for (const [name, v] of [['x', x], ['y', y], ['z', z], ['w', w]]) hide(this, POINT[name], Number(v)); }
    static fromPoint({ x = 0, y = 0, z = 0, w = 1 } = {}) { return new this(x, y, z, w); }
    matrixTransform(matrix = {}) { return DOMMatrixReadOnly.fromMatrix(matrix).transformPoint(this); }
    toJSON() { return { x: this.x, y: this.y, z: this.z, w: this.w }; }
  }
  const POINT = { x: Symbol('x'), y: Symbol('y'), z: Symbol('z'), w: Symbol('w') };
  class DOMPoint extends DOMPointReadOnly {}
  for (const name of ['x', 'y', 'z', 'w']) {
    accessor(DOMPointReadOnly.prototype, name, function () { return this[POINT[name]]; });
    accessor(DOMPoint.prototype, name, function () { return this[POINT[name]]; }, function (v) { this[POINT[name]] = Number(v); });
  }

  class DOMQuad {
    constructor(...points) {
      ['p1', 'p2', 'p3', 'p4'].forEach((name, i) => Object.defineProperty(this, name, { value: DOMPoint.fromPoint(points[i] ?? {}), enumerable: true }));
    }
    static fromRect({ x = 0, y = 0, width = 0, height = 0 } = {}) {
      return new DOMQuad({ x, y }, { x: x + width, y }, { x: x + width, y: y + height }, { x, y: y + height });
    }
    static fromQuad({ p1, p2, p3, p4 } = {}) { return new DOMQuad(p1, p2, p3, p4); }
    getBounds() {
      const all = [this.p1, this.p2, this.p3, this.p4];
      const [xs, ys] = [all.map((p) => p.x), all.map((p) => p.y)];
      const [left, top] = [Math.min(...xs), Math.min(...ys)];
      return new DOMRect(left, top, Math.max(...xs) - left, Math.max(...ys) - top);
    }
    toJSON() { return { p1: this.p1, p2: this.p2, p3: this.p3, p4: this.p4 }; }
  }

  /** The cells of a matrix, column after column. */
  const CELLS = Symbol('cells');
  const FLAT = Symbol('flat');
  const IDENTITY = [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1];
  /** Where the six numbers of a flat matrix stand. */
  const SIX = [0, 1, 4, 5, 12, 13];
  const flatCells = (six) => { const cells = [...IDENTITY]; six.forEach((v, i) => { cells[SIX[i]] = Number(v); }); return cells; };
  const product = (a, b) => {
    const out = new Array(16);
    for (let column = 0; column < 4; column++) {
      for (let row = 0; row < 4; row++) {
        let sum = 0;
        for (let k = 0; k < 4; k++) sum += a[k * 4 + row] * b[column * 4 + k];
        out[column * 4 + row] = sum;
      }
    }
    return out;
  };
  const RADIANS = { deg: Math.PI / 180, grad: Math.PI / 200, rad: 1, turn: 2 * Math.PI };
  const PIXELS = { px: 1, in: 96, cm: 96 / 2.54, mm: 9.6 / 2.54, q: 2.4 / 2.54, pt: 96 / 72, pc: 16 };
  /** Sine and cosine; of quarters of a turn as they are. */
  const sinCos = (radians) => {
    const quarters = radians / (Math.PI / 2);
    const whole = Math.round(quarters);
    return Math.abs(quarters - whole) < 1e-12 ? [[0, 1], [1, 0], [0, -1], [-1, 0]][((whole % 4) + 4) % 4] : [Math.sin(radians), Math.cos(radians)];
  };
  const turned = (x, y, z, radians) => {
    const length = Math.hypot(x, y, z);
    if (length === 0) return [...IDENTITY];
    [x, y, z] = [x / length, y / length, z / length];
    const [sin, cos] = sinCos(radians);
    const t = 1 - cos;
    return [
      t * x * x + cos, t * x * y + sin * z, t * x * z - sin * y, 0, t * x * y - sin * z, t * y * y + cos, t * y * z + sin * x, 0,
      t * x * z + sin * y, t * y * z - sin * x, t * z * z + cos, 0, 0, 0, 0, 1,
    ];
  };
  const moved = (x, y, z) => [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, x, y, z, 1];
  const scaled = (x, y, z) => [x, 0, 0, 0, 0, y, 0, 0, 0, 0, z, 0, 0, 0, 0, 1];
  const skewed = (x, y) => flatCells([1, Math.tan(y), Math.tan(x), 1, 0, 0]);
  /** The matrix of a list of transform functions without relative lengths, and whether it is flat (CSS Transforms 2 §14). */
  const parsed = (text) => {
    const wrong = () => new DOMException(`'${text}' is no list of transform functions.`, 'SyntaxError');
    let cells = [...IDENTITY];
    let flat = true;
    const rest = text.trim().toLowerCase();
    if (rest === '' || rest === 'none') return { cells, flat };
    let read = 0;
    for (const found of rest.matchAll(/\s*([a-z][a-z0-9]*)\(([^()]*)\)\s*/g)) {
      if (found.index !== read) throw wrong();
      read += found[0].length;
      const parts = found[2].split(',').map((part) => /^([+-]?(?:\d+\.?\d*|\.\d+)(?:e[+-]?\d+)?)([a-z%]*)$/.exec(part.trim()));
      if (parts.some((part) => !part)) throw wrong();
      const number = (i, fallback) => { if (i >= parts.length) return fallback; if (parts[i][2] !== '') throw wrong(); return Number(parts[i][1]); };
      const of = (units, i, fallback = 0) => {
        if (i >= parts.length) return fallback;
        const [, n, unit] = parts[i];
        if (unit === '' && Number(n) === 0) return 0;
        if (!(unit in units)) throw wrong();
        return Number(n) * units[unit];
      };
      const length = (i) => of(PIXELS, i);
      const angle = (i) => of(RADIANS, i);
      const all = (count) => { if (parts.length !== count) throw wrong(); return parts.map((_, i) => number(i)); };
      const upTo = (most) => { if (parts.length > most) throw wrong(); };
      const is3d = ['matrix3d', 'translate3d', 'translatez', 'scale3d', 'scalez', 'rotate3d', 'rotatex', 'rotatey', 'perspective'].includes(found[1]);
      const FUNCTIONS = {
        matrix: () => flatCells(all(6)), matrix3d: () => all(16),
        translate: () => { upTo(2); return moved(length(0), length(1), 0); }, translate3d: () => { upTo(3); return moved(length(0), length(1), length(2)); },
        translatex: () => { upTo(1); return moved(length(0), 0, 0); }, translatey: () => { upTo(1); return moved(0, length(0), 0); }, translatez: () => { upTo(1); return moved(0, 0, length(0)); },
        scale: () => { upTo(2); return scaled(number(0), number(1, number(0)), 1); }, scale3d: () => scaled(...all(3)),
        scalex: () => scaled(all(1)[0], 1, 1), scaley: () => scaled(1, all(1)[0], 1), scalez: () => scaled(1, 1, all(1)[0]),
        rotate: () => { upTo(1); return turned(0, 0, 1, angle(0)); }, rotatez: () => { upTo(1); return turned(0, 0, 1, angle(0)); },
        rotatex: () => { upTo(1); return turned(1, 0, 0, angle(0)); }, rotatey: () => { upTo(1); return turned(0, 1, 0, angle(0)); },
        rotate3d: () => { if (parts.length !== 4) throw wrong(); return turned(number(0), number(1), number(2), angle(3)); },
        skew: () => { upTo(2); return skewed(angle(0), angle(1)); }, skewx: () => { upTo(1); return skewed(angle(0), 0); }, skewy: () => { upTo(1); return skewed(0, angle(0)); },
        perspective: () => { upTo(1); const d = length(0); return d > 0 ? [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, -1 / d, 0, 0, 0, 1] : [...IDENTITY]; },
      };
      if (!Object.hasOwn(FUNCTIONS, found[1])) throw wrong();
      cells = product(cells, FUNCTIONS[found[1]]());
      flat &&= !is3d;
    }
    if (read !== rest.length) throw wrong();
    return { cells, flat };
  };

  class DOMMatrixReadOnly {
    constructor(init) {
      let [cells, flat] = [[...IDENTITY], true];
      if (typeof init === 'string') ({ cells, flat } = parsed(init));
      else if (init !== undefined) {
        const list = init instanceof DOMMatrixReadOnly ? null : init !== null && typeof init === 'object' && Symbol.iterator in init ? [...init].map(Number) : String(init);
        if (list === null) [cells, flat] = [[...init[CELLS]], init[FLAT]];
        else if (typeof list === 'string') ({ cells, flat } = parsed(list));
        else if (list.length === 6) cells = flatCells(list);
        else if (list.length === 16) [cells, flat] = [list, false];
        else throw new TypeError('A matrix is made of 6 or 16 numbers.');
      }
      hide(this, CELLS, cells);
      hide(this, FLAT, flat);
    }
    /** Of what has members by the names of the cells; `a` to `f` are those of a flat one. */
    static fromMatrix(other = {}) {
      const flat = ['a', 'b', 'c', 'd', 'e', 'f'];
      const long = ['m11', 'm12', 'm21', 'm22', 'm41', 'm42'];
      const six = flat.map((name, i) => {
        const [short, whole] = [other[name], other[long[i]]];
        if (short !== undefined && whole !== undefined && !Object.is(Number(short), Number(whole)) && Number(short) !== Number(whole)) throw new TypeError(`\`${name}\` and \`${long[i]}\` differ.`);
        return Number(short ?? whole ?? (i === 0 || i === 3 ? 1 : 0));
      });
      const deep = { m13: 0, m14: 0, m23: 0, m24: 0, m31: 0, m32: 0, m33: 1, m34: 0, m43: 0, m44: 1 };
      const is3d = Object.entries(deep).some(([name, plain]) => other[name] !== undefined && Number(other[name]) !== plain);
      if (other.is2D && is3d) throw new TypeError('The matrix is said to be flat, and is not.');
      const out = new this();
      out[CELLS] = flatCells(six);
      for (const [name, plain] of Object.entries(deep)) out[CELLS][NAMED.indexOf(name)] = Number(other[name] ?? plain);
      out[FLAT] = other.is2D ?? !is3d;
      return out;
    }
    static fromFloat32Array(list) { return new this(list); }
    static fromFloat64Array(list) { return new this(list); }
    get is2D() { return this[FLAT]; }
    get isIdentity() { return this[CELLS].every((v, i) => v === IDENTITY[i]); }
    translate(x = 0, y = 0, z = 0) { return DOMMatrix.fromMatrix(this).translateSelf(x, y, z); }
    scale(x = 1, y = x, z = 1, originX = 0, originY = 0, originZ = 0) { return DOMMatrix.fromMatrix(this).scaleSelf(x, y, z, originX, originY, originZ); }
    scaleNonUniform(x = 1, y = 1) { return DOMMatrix.fromMatrix(this).scaleSelf(x, y, 1, 0, 0, 0); }
    scale3d(by = 1, originX = 0, originY = 0, originZ = 0) { return DOMMatrix.fromMatrix(this).scale3dSelf(by, originX, originY, originZ); }
    rotate(x = 0, y, z) { return DOMMatrix.fromMatrix(this).rotateSelf(x, y, z); }
    rotateFromVector(x = 0, y = 0) { return DOMMatrix.fromMatrix(this).rotateFromVectorSelf(x, y); }
    rotateAxisAngle(x = 0, y = 0, z = 0, angle = 0) { return DOMMatrix.fromMatrix(this).rotateAxisAngleSelf(x, y, z, angle); }
    skewX(angle = 0) { return DOMMatrix.fromMatrix(this).skewXSelf(angle); }
    skewY(angle = 0) { return DOMMatrix.fromMatrix(this).skewYSelf(angle); }
    multiply(other = {}) { return DOMMatrix.fromMatrix(this).multiplySelf(other); }
    flipX() { return DOMMatrix.fromMatrix(this).multiplySelf(new DOMMatrix([-1, 0, 0, 1, 0, 0])); }
    flipY() { return DOMMatrix.fromMatrix(this).multiplySelf(new DOMMatrix([1, 0, 0, -1, 0, 0])); }
    inverse() { return DOMMatrix.fromMatrix(this).invertSelf(); }
    transformPoint({ x = 0, y = 0, z = 0, w = 1 } = {}) {
      const m = this[CELLS];
      const row = (i) => m[i] * x + m[4 + i] * y + m[8 + i] * z + m[12 + i] * w;
      return new DOMPoint(row(0), row(1), row(2), row(3));
    }
    toFloat32Array() { return new Float32Array(this[CELLS]); }
    toFloat64Array() { return new Float64Array(this[CELLS]); }
    toString() {
      const list = this[FLAT] ? SIX.map((i) => this[CELLS][i]) : this[CELLS];
      if (!list.every(Number.isFinite)) throw new DOMException('The matrix has cells that are no finite numbers.', 'InvalidStateError');
      return `${this[FLAT] ? 'matrix' : 'matrix3d'}(${list.join(', ')})`;
    }
    toJSON() {
      const cells = Object.fromEntries([...['a', 'b', 'c', 'd', 'e', 'f'], ...NAMED].map((name) => [name, this[name]]));
      return { ...cells, is2D: this.is2D, isIdentity: this.isIdentity };
    }
  }
  const NAMED = [1, 2, 3, 4].flatMap((column) => [1, 2, 3, 4].map((row) => `m${column}${row}`));
  class DOMMatrix extends DOMMatrixReadOnly {
    #times(cells, flat = true) { this[CELLS] = product(this[CELLS], cells); this[FLAT] &&= flat; return this; }
    multiplySelf(other = {}) { const by = DOMMatrixReadOnly.fromMatrix(other); return this.#times(by[CELLS], by[FLAT]); }
    preMultiplySelf(other = {}) { const by = DOMMatrixReadOnly.fromMatrix(other); this[CELLS] = product(by[CELLS], this[CELLS]); this[FLAT] &&= by[FLAT]; return this; }
    translateSelf(x = 0, y = 0, z = 0) { return this.#times(moved(finite(x), finite(y), finite(z)), Number(z) === 0); }
    scaleSelf(x = 1, y = x, z = 1, originX = 0, originY = 0, originZ = 0) {
      return this.translateSelf(originX, originY, originZ).#times(scaled(Number(x), Number(y ?? x), Number(z)), Number(z) === 1).translateSelf(-originX, -originY, -originZ);
    }
    scale3dSelf(by = 1, originX = 0, originY = 0, originZ = 0) {
      return this.translateSelf(originX, originY, originZ).#times(scaled(Number(by), Number(by), Number(by)), Number(by) === 1).translateSelf(-originX, -originY, -originZ);
    }
    /** One angle turns about the axis towards the eye. */
    rotateSelf(x = 0, y, z) {
      if (y === undefined && z === undefined) [x, y, z] = [0, 0, x];
      const [a, b, c] = [finite(x), finite(y), finite(z)].map((degrees) => degrees * RADIANS.deg);
      this.#times(turned(0, 0, 1, c));
      if (b) this.#times(turned(0, 1, 0, b), false);
      if (a) this.#times(turned(1, 0, 0, a), false);
      return this;
    }
    rotateFromVectorSelf(x = 0, y = 0) { return this.#times(turned(0, 0, 1, x === 0 && y === 0 ? 0 : Math.atan2(y, x))); }
    rotateAxisAngleSelf(x = 0, y = 0, z = 0, angle = 0) { return this.#times(turned(Number(x), Number(y), Number(z), angle * RADIANS.deg), Number(x) === 0 && Number(y) === 0); }
    skewXSelf(angle = 0) { return this.#times(skewed(angle * RADIANS.deg, 0)); }
    skewYSelf(angle = 0) { return this.#times(skewed(0, angle * RADIANS.deg)); }
    /** By elimination; one that has no inverse is of nothing but NaN then. */
    invertSelf() {
      const rows = [0, 1, 2, 3].map((row) => [...[0, 1, 2, 3].map((column) => this[CELLS][column * 4 + row]), ...[0, 1, 2, 3].map((i) => (i === row ? 1 : 0))]);
      for (let i = 0; i < 4; i++) {
        let best = i;
        for (let r = i + 1; r < 4; r++) if (Math.abs(rows[r][i]) > Math.abs(rows[best][i])) best = r;
        if (!rows[best][i]) { this[CELLS] = new Array(16).fill(NaN); this[FLAT] = false; return this; }
        [rows[i], rows[best]] = [rows[best], rows[i]];
        const by = rows[i][i];
        rows[i] = rows[i].map((v) => v / by);
        for (let r = 0; r < 4; r++) {
          const times = rows[r][i];
          if (r !== i && times) rows[r] = rows[r].map((v, k) => v - times * rows[i][k]);
        }
      }
      this[CELLS] = NAMED.map((_, at) => rows[at % 4][4 + Math.floor(at / 4)]);
      return this;
    }
    setMatrixValue(text) {
      const { cells, flat } = parsed(String(text));
      [this[CELLS], this[FLAT]] = [cells, flat];
      return this;
    }
  }
  const cellNames = [...NAMED.map((name, i) => [name, i]), ...['a', 'b', 'c', 'd', 'e', 'f'].map((name, i) => [name, SIX[i]])];
  for (const [name, i] of cellNames) {
    accessor(DOMMatrixReadOnly.prototype, name, function () { return this[CELLS][i]; });
    accessor(DOMMatrix.prototype, name, function () { return this[CELLS][i]; }, function (v) {
      this[CELLS][i] = Number(v);
      if (!SIX.includes(i) && this[CELLS][i] !== IDENTITY[i]) this[FLAT] = false;
    });
  }
  expose(DOMPointReadOnly, DOMPoint, DOMQuad, DOMMatrixReadOnly, DOMMatrix);
  return { DOMPointReadOnly, DOMPoint, DOMQuad, DOMMatrixReadOnly, DOMMatrix, WebKitCSSMatrix: DOMMatrix };
};
for (const name of ['DOMPointReadOnly', 'DOMPoint', 'DOMQuad', 'DOMMatrixReadOnly', 'DOMMatrix', 'WebKitCSSMatrix']) lazily(name, () => geometry()[name]);
