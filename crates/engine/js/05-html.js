// HTML elements: interfaces, reflected attributes (HTML §2.6.1), form controls (HTML §4.10), SVG elements.

/**
 * HTML §3.2.7 "rendered text collection steps", by the default style of elements and by what is hidden. Numbers stand for line
 * breaks that are required: of several in a row the greatest counts.
 */
const collectText = (node, out) => {
  const textless = node.localName === 'select' || node.localName === 'details' && !node.hasAttribute('open');
  for (let c = node.firstChild; c; c = c.nextSibling) {
    if (c.nodeType === 3 && !textless) out.push(c.data.replace(/[ \t\n\r\f]+/g, ' '));
    if (c.nodeType !== 1 || native.hidden(c[ID])) continue;
    const tag = c.localName;
    if (tag === 'br') { out.push('\n'); continue; }
    if (TEXTLESS.has(tag)) continue;
    const lines = tag === 'p' ? 2 : BLOCKS.has(tag) || ['li', 'table', 'caption', 'option', 'optgroup'].includes(tag) ? 1 : 0;
    if (lines) out.push(lines);
    collectText(c, out);
    if (CELLS.has(tag) && CELLS.has(c.nextElementSibling?.localName)) out.push('\t');
    if (tag === 'tr' && (c.nextElementSibling?.localName === 'tr' || (!c.nextElementSibling && c.parentNode.nextElementSibling?.localName === 'tbody'))) out.push('\n');
    if (lines) out.push(lines);
  }
};
/** What shows no text of its own. */
const TEXTLESS = new Set(['input', 'textarea', 'img', 'video', 'audio', 'iframe', 'canvas', 'object', 'meter', 'progress']);
const CELLS = new Set(['td', 'th']);
const renderedText = (element) => {
  if (TEXTLESS.has(element.localName)) return '';
  const items = [];
  collectText(element, items);
  let text = '';
  let breaks = 0;
  for (const item of items) {
    if (typeof item === 'number') { breaks = Math.max(breaks, item); continue; }
    if (item === '' || (item === ' ' && (breaks || text === ''))) continue;
    if (breaks && text !== '') text += '\n'.repeat(breaks);
    breaks = 0;
    text += /[ \n]$/.test(text) ? item.replace(/^ /, '') : item;
  }
  return text.replace(/ +\n/g, '\n').replace(/\n +/g, '\n').replace(/ $/, '');
};

class HTMLElement extends Element {
  constructor() { return constructElement(new.target); }
  get style() { return styleOf(this); }
  set style(text) { styleOf(this).cssText = text; }
  get dataset() {
    return this[COLLECTIONS]?.get('dataset') ?? (() => {
      const set = new Proxy({ owner: this }, datasetHandler);
      (this[COLLECTIONS] ?? (hide(this, COLLECTIONS, new Map()), this[COLLECTIONS])).set('dataset', set);
      return set;
    })();
  }
  get innerText() { return this.isConnected && !native.hidden(this[ID]) ? renderedText(this) : native.text(this[ID]); }
  set innerText(v) { this.textContent = v; }
  get outerText() { return this.innerText; }
  get hidden() { return this.hasAttribute('hidden'); }
  set hidden(v) { this.toggleAttribute('hidden', !!v); }
  get tabIndex() {
    const written = parseInt(this.getAttribute('tabindex') ?? '', 10);
    if (!Number.isNaN(written)) return written;
    if (this.localName === 'summary') return this.parentNode?.localName === 'details' && [...this.parentNode.children].find((c) => c.localName === 'summary') === this ? 0 : -1;
    return ['A', 'AREA', 'BUTTON', 'INPUT', 'SELECT', 'TEXTAREA', 'IFRAME'].includes(this.tagName) ? 0 : -1;
  }
  set tabIndex(v) { this.setAttribute('tabindex', String(v | 0)); }
  get contentEditable() { const v = this.getAttribute('contenteditable'); return v === null ? 'inherit' : v === '' ? 'true' : v.toLowerCase(); }
  set contentEditable(v) { v === 'inherit' ? this.removeAttribute('contenteditable') : this.setAttribute('contenteditable', v); }
  get isContentEditable() { const e = this.closest('[contenteditable]'); return !!e && e.getAttribute('contenteditable').toLowerCase() !== 'false'; }
  get draggable() { return this.getAttribute('draggable') === 'true'; }
  set draggable(v) { this.setAttribute('draggable', String(!!v)); }
  get spellcheck() { return this.getAttribute('spellcheck') !== 'false'; }
  set spellcheck(v) { this.setAttribute('spellcheck', String(!!v)); }
  get translate() { return this.getAttribute('translate') !== 'no'; }
  set translate(v) { this.setAttribute('translate', v ? 'yes' : 'no'); }
  get offsetParent() { return retarget(wrap(native.measures(this[ID])[10]), this); }
  get offsetTop() { return native.measures(this[ID])[7]; }
  get offsetLeft() { return native.measures(this[ID])[6]; }
  get offsetWidth() { return native.measures(this[ID])[8]; }
  get offsetHeight() { return native.measures(this[ID])[9]; }
  click() {
    if (native.can_be_disabled(this[ID]) && native.disabled(this[ID])) return;
    fire(this, new PointerEvent('click', { bubbles: true, cancelable: true, composed: true, view: globalThis, detail: 1, pointerId: -1 }));
  }
  focus() { moveFocus(focusDelegate(this)); }
  blur() { if (focusedNode() && retarget(focusedNode(), this) === this) moveFocus(null); }
}
enumerable(HTMLElement);
defineHandlers(HTMLElement.prototype, HANDLER_NAMES);

// --- reflection ----------------------------------------------------------------------------------------------------

/** The kinds of reflecting IDL attributes, by the letter the tables below use. */
const REFLECT = {
  // string
  s: (attr) => [(e) => e.getAttribute(attr) ?? '', (e, v) => e.setAttribute(attr, v)],
  // boolean
  b: (attr) => [(e) => e.hasAttribute(attr), (e, v) => { if (v) e.setAttribute(attr, ''); else e.removeAttribute(attr); }],
  // long, 0 by default
  n: (attr) => [(e) => { const n = parseInt(e.getAttribute(attr) ?? '', 10); return Number.isNaN(n) ? 0 : n; }, (e, v) => e.setAttribute(attr, String(v | 0))],
  // long, -1 by default
  m: (attr) => [(e) => { const n = parseInt(e.getAttribute(attr) ?? '', 10); return Number.isNaN(n) || n < 0 ? -1 : n; }, (e, v) => {
    if (v < 0) throw new DOMException(`The value ${v} is negative.`, 'IndexSizeError');
    e.setAttribute(attr, String(v | 0));
  }],
  // unsigned long, 0 by default
  p: (attr) => [(e) => { const n = parseInt(e.getAttribute(attr) ?? '', 10); return n > 0 && n < 2 ** 31 ? n : 0; }, (e, v) => e.setAttribute(attr, String(v >>> 0 < 2 ** 31 ? v >>> 0 : 0))],
  // unsigned long, 1 by default (colspan, span)
  o: (attr) => [(e) => { const n = parseInt(e.getAttribute(attr) ?? '', 10); return n > 0 ? n : 1; }, (e, v) => e.setAttribute(attr, String(v >>> 0))],
  // URL
  u: (attr) => [(e) => { const v = e.getAttribute(attr); if (v === null) return ''; try { return new URL(v, document.baseURI).href; } catch { return v; } }, (e, v) => e.setAttribute(attr, v)],
  // token list
  t: (attr) => [(e) => tokenList(e, attr), (e, v) => e.setAttribute(attr, v)],
};
const LETTER_NAMES = {
  className: 'class', htmlFor: 'for', httpEquiv: 'http-equiv', defaultValue: 'value', defaultChecked: 'checked', defaultSelected: 'selected',
  defaultMuted: 'muted', acceptCharset: 'accept-charset', noModule: 'nomodule', dateTime: 'datetime', relList: 'rel', ch: 'char',
};
const reflect = (C, table) => {
  for (const entry of table.split(' ').filter(Boolean)) {
    const [name, kind = 's'] = entry.split(':');
    const [get, set] = REFLECT[kind](LETTER_NAMES[name] ?? name.toLowerCase());
    accessor(C.prototype, name, function () { return get(this); }, function (v) { set(this, v); });
  }
};
/** Enumerated attributes: known values, and what missing and unknown ones mean. */
const enumerated = (C, name, values, missing, invalid = missing) => {
  const attr = LETTER_NAMES[name] ?? name.toLowerCase();
  accessor(C.prototype, name, function () {
    const v = this.getAttribute(attr);
    if (v === null) return missing;
    return values.includes(v.toLowerCase()) ? v.toLowerCase() : invalid;
  }, function (v) { this.setAttribute(attr, v); });
};
reflect(HTMLElement, 'title lang accessKey nonce inert:b autofocus:b autocapitalize');
enumerated(HTMLElement, 'dir', ['ltr', 'rtl', 'auto'], '');
enumerated(HTMLElement, 'enterKeyHint', ['enter', 'done', 'go', 'next', 'previous', 'search', 'send'], '');
enumerated(HTMLElement, 'inputMode', ['none', 'text', 'tel', 'url', 'email', 'numeric', 'decimal', 'search'], '');

const TAGS = new Map();
/** Declares an interface for tags: `define('Anchor', 'a', 'reflected attributes')`. */
const define = (name, tags, table = '', Base = HTMLElement) => {
  const C = { [`HTML${name}Element`]: class extends Base {} }[`HTML${name}Element`];
  reflect(C, table);
  expose(C);
  for (const tag of tags.split(' ').filter(Boolean)) TAGS.set(tag, C);
  return C;
};
class HTMLUnknownElement extends HTMLElement {}
hide(HTMLElement.prototype, IS_HTML, true);
expose(HTMLElement, HTMLUnknownElement);
for (const tag of ('abbr address article aside b bdi bdo center cite code dd dfn dt em figcaption figure footer header hgroup i kbd main mark nav nobr noembed noframes noscript ' +
  'plaintext rb rp rt rtc ruby s samp search section small strike strong sub summary sup tt u var wbr acronym basefont big').split(' ')) TAGS.set(tag, HTMLElement);

const HTMLAnchorElement = define('Anchor', 'a', 'target download ping rel relList:t hreflang type referrerPolicy href:u name rev coords charset shape');
const HTMLAreaElement = define('Area', 'area', 'alt coords shape target download ping rel relList:t href:u noHref:b');
define('BR', 'br', 'clear'); define('Base', 'base', 'href:u target'); define('Body', 'body', 'text link vLink aLink bgColor background');
define('Quote', 'blockquote q', 'cite:u'); define('TableCaption', 'caption', 'align'); define('TableCol', 'col colgroup', 'span:o align ch chOff vAlign width');
define('Data', 'data', 'value'); define('DataList', 'datalist'); define('Mod', 'del ins', 'cite:u dateTime');
const HTMLDetailsElement = define('Details', 'details', 'open:b name');
const HTMLDialogElement = define('Dialog', 'dialog', 'open:b');
define('Div', 'div', 'align'); define('DList', 'dl', 'compact:b'); define('Embed', 'embed', 'src:u type width height');
const HTMLFieldSetElement = define('FieldSet', 'fieldset', 'disabled:b name');
define('Font', 'font', 'color face size');
const HTMLFormElement = define('Form', 'form', 'acceptCharset name noValidate:b target rel relList:t');
define('Heading', 'h1 h2 h3 h4 h5 h6', 'align'); define('Head', 'head'); define('HR', 'hr', 'align color noShade:b size width'); define('Html', 'html', 'version');
const HTMLIFrameElement = define('IFrame', 'iframe', 'src:u srcdoc name sandbox:t allow allowFullscreen:b width height referrerPolicy align scrolling frameBorder longDesc:u marginHeight marginWidth');
const HTMLImageElement = define('Image', 'img', 'alt src:u srcset sizes useMap isMap:b referrerPolicy width:n height:n name lowsrc:u align longDesc:u border crossOrigin fetchPriority');
const HTMLInputElement = define('Input', 'input', 'accept alt autocomplete defaultValue defaultChecked:b dirName disabled:b formNoValidate:b formTarget ' +
  'max maxLength:m min minLength:m multiple:b webkitdirectory:b name pattern placeholder readOnly:b required:b src:u step height:n width:n align useMap');
define('LI', 'li', 'value:n type');
const HTMLLabelElement = define('Label', 'label', 'htmlFor');
define('Legend', 'legend', 'align'); define('Link', 'link', 'href:u rel relList:t media integrity hreflang type referrerPolicy disabled:b sizes:t imageSrcset imageSizes as crossOrigin fetchPriority charset rev target');
define('Map', 'map', 'name'); define('Marquee', 'marquee', 'behavior direction bgColor height hspace:p vspace:p trueSpeed:b width'); define('Menu', 'menu', 'compact:b'); define('Meta', 'meta', 'name httpEquiv content media scheme');
const HTMLMeterElement = define('Meter', 'meter'); const HTMLObjectElement = define('Object', 'object', 'data:u type name width height');
define('OList', 'ol', 'reversed:b type compact:b'); const HTMLOptGroupElement = define('OptGroup', 'optgroup', 'disabled:b label');
const HTMLOptionElement = define('Option', 'option', 'disabled:b defaultSelected:b');
const HTMLOutputElement = define('Output', 'output', 'name'); define('Paragraph', 'p', 'align'); define('Param', 'param', 'name value type valueType');
define('Picture', 'picture'); define('Pre', 'pre listing xmp', 'width:n'); const HTMLProgressElement = define('Progress', 'progress');
const HTMLScriptElement = define('Script', 'script', 'src:u type noModule:b async:b defer:b crossOrigin integrity referrerPolicy charset event htmlFor');
const HTMLSelectElement = define('Select', 'select', 'autocomplete disabled:b multiple:b name required:b');
const HTMLSlotElement = define('Slot', 'slot', 'name'); define('Source', 'source', 'src:u type srcset sizes media width:n height:n'); define('Span', 'span');
const HTMLStyleElement = define('Style', 'style', 'media type'); const HTMLTableElement = define('Table', 'table', 'align border frame rules summary width bgColor cellPadding cellSpacing');
const HTMLTableSectionElement = define('TableSection', 'thead tbody tfoot', 'align ch chOff vAlign');
const HTMLTableCellElement = define('TableCell', 'td th', 'colSpan:o rowSpan:o headers abbr scope align axis height width ch chOff noWrap:b vAlign bgColor');
const HTMLTableRowElement = define('TableRow', 'tr', 'align ch chOff vAlign bgColor');
const HTMLTemplateElement = define('Template', 'template', 'htmlFor');
const HTMLTextAreaElement = define('TextArea', 'textarea', 'autocomplete dirName disabled:b maxLength:m minLength:m name placeholder readOnly:b required:b wrap');
for (const [name, usual] of [['scrollAmount', 6], ['scrollDelay', 85]]) {
  accessor(TAGS.get('marquee').prototype, name, function () { const n = parseInt(this.getAttribute(name.toLowerCase()) ?? '', 10); return n >= 0 && n < 2 ** 31 ? n : usual; },
    function (v) { this.setAttribute(name.toLowerCase(), String(v >>> 0 < 2 ** 31 ? v >>> 0 : usual)); });
}
define('Frame', 'frame', 'name scrolling src:u frameBorder longDesc:u noResize:b marginHeight marginWidth'); define('FrameSet', 'frameset', 'cols rows'); define('Directory', 'dir', 'compact:b');
define('Time', 'time', 'dateTime'); define('Title', 'title'); define('Track', 'track', 'kind src:u srclang label default:b'); define('UList', 'ul', 'compact:b type');
const HTMLCanvasElement = define('Canvas', 'canvas');
const HTMLButtonElement = define('Button', 'button', 'disabled:b formNoValidate:b formTarget name value');

enumerated(HTMLButtonElement, 'type', ['submit', 'reset', 'button'], 'submit');
enumerated(HTMLFormElement, 'method', ['get', 'post', 'dialog'], 'get');
enumerated(HTMLFormElement, 'enctype', ['application/x-www-form-urlencoded', 'multipart/form-data', 'text/plain'], 'application/x-www-form-urlencoded');
for (const C of [HTMLInputElement, HTMLButtonElement]) {
  enumerated(C, 'formMethod', ['get', 'post', 'dialog'], '', 'get');
  enumerated(C, 'formEnctype', ['application/x-www-form-urlencoded', 'multipart/form-data', 'text/plain'], '', 'application/x-www-form-urlencoded');
}
enumerated(HTMLFormElement, 'autocomplete', ['on', 'off'], 'on');
enumerated(HTMLImageElement, 'loading', ['lazy', 'eager'], 'eager');
enumerated(HTMLImageElement, 'decoding', ['sync', 'async', 'auto'], 'auto');
enumerated(HTMLIFrameElement, 'loading', ['lazy', 'eager'], 'eager');
for (const C of [HTMLFormElement, HTMLInputElement, HTMLButtonElement]) {
  const attr = C === HTMLFormElement ? 'action' : 'formaction';
  accessor(C.prototype, C === HTMLFormElement ? 'action' : 'formAction', function () {
    const v = this.getAttribute(attr);
    return v ? new URL(v, document.baseURI).href : document.URL;
  }, function (v) { this.setAttribute(attr, v); });
}

const members = (C, object) => mixin(object, C);
const hyperlink = (part) => ({
  get() { try { return new URL(this.href)[part]; } catch { return ''; } },
  set(v) { try { const u = new URL(this.href); u[part] = v; this.href = u.href; } catch { /* no address yet */ } },
});
for (const C of [HTMLAnchorElement, HTMLAreaElement]) {
  for (const part of ['protocol', 'username', 'password', 'host', 'hostname', 'port', 'pathname', 'search', 'hash']) {
    const { get, set } = hyperlink(part);
    accessor(C.prototype, part, get, set);
  }
  members(C, { get origin() { try { return new URL(this.href).origin; } catch { return ''; } }, toString() { return this.href; } });
}
members(HTMLAnchorElement, { get text() { return this.textContent; }, set text(v) { this.textContent = String(v); } });
members(HTMLTemplateElement, {
  get content() {
    const content = wrap(native.template(this[ID]));
    if (content[INERT] === undefined) hide(content, INERT, true);
    return content;
  },
});
/** There is no network: a picture that comes with its address loads, any other one fails (HTML §4.8.4.3.5). Told once for each address. */
const tryPicture = (img) => {
  const src = img.getAttribute('src');
  if (!src || img[TRIED] === src) return;
  hide(img, TRIED, src);
  queueTask(() => { if (img.getAttribute('src') === src) fire(img, new Event(pictured(src) ? 'load' : 'error')); });
};
const TRIED = Symbol('tried');
/** The size of a picture that comes with its address, as far as its first bytes tell; null where it is none. */
const pictured = (src) => {
  if (/^blob:/i.test(src)) return [0, 0];
  const [, kind, encoded, data] = /^data:image\/([\w.+-]+)[^,]*?(;base64)?,(.*)$/is.exec(src) ?? [];
  if (!kind) return null;
  let bytes;
  try { bytes = encoded ? atob(data) : decodeURIComponent(data); } catch { return null; }
  const at = (i) => bytes.charCodeAt(i);
  if (kind === 'svg+xml') return bytes.includes('<svg') ? [300, 150] : null;
  // Shorter ones hold no picture.
  if (bytes.startsWith('GIF8')) return bytes.length > 24 ? [at(6) + 256 * at(7), at(8) + 256 * at(9)] : null;
  if (bytes.startsWith('\x89PNG')) return bytes.length > 56 ? [at(18) * 256 + at(19), at(22) * 256 + at(23)] : null;
  return bytes.startsWith('\xff\xd8\xff') || bytes.startsWith('RIFF') || kind === 'avif' ? [0, 0] : null;
};
members(HTMLImageElement, {
  get complete() { return true; }, get naturalWidth() { return pictured(this.getAttribute('src') ?? '')?.[0] ?? 0; }, get naturalHeight() { return pictured(this.getAttribute('src') ?? '')?.[1] ?? 0; }, get currentSrc() { return this.src; },
  decode() { return Promise.resolve(); },
});
const CONTEXT = Symbol('context');
/** Nothing is painted on a stage: what draws is called in vain, what measures gives nothing. */
class CanvasRenderingContext2D { constructor() { throw illegal(); } }
for (const name of ('arc arcTo beginPath bezierCurveTo clearRect clip closePath drawImage ellipse fill fillRect fillText lineTo moveTo putImageData quadraticCurveTo rect ' +
  'reset resetTransform restore rotate roundRect save scale setLineDash setTransform stroke strokeRect strokeText transform translate drawFocusIfNeeded').split(' ')) hide(CanvasRenderingContext2D.prototype, name, () => {});
for (const name of ['createLinearGradient', 'createRadialGradient', 'createConicGradient']) hide(CanvasRenderingContext2D.prototype, name, () => ({ addColorStop() {} }));
Object.assign(CanvasRenderingContext2D.prototype, {
  createPattern: () => null, isPointInPath: () => false, isPointInStroke: () => false, getLineDash: () => [],
  measureText: () => ({ width: 0, actualBoundingBoxAscent: 0, actualBoundingBoxDescent: 0, actualBoundingBoxLeft: 0, actualBoundingBoxRight: 0 }),
  getImageData: (x, y, width, height) => ({ width, height, data: new Uint8ClampedArray(Math.max(0, width * height * 4)) }),
  createImageData: (width, height) => ({ width, height, data: new Uint8ClampedArray(Math.max(0, width * height * 4)) }),
});
const blankContext = (canvas) => Object.assign(Object.create(CanvasRenderingContext2D.prototype), {
  canvas, fillStyle: '#000000', strokeStyle: '#000000', lineWidth: 1, lineCap: 'butt', lineJoin: 'miter', miterLimit: 10, font: '10px sans-serif', textAlign: 'start',
  textBaseline: 'alphabetic', globalAlpha: 1, globalCompositeOperation: 'source-over', shadowBlur: 0, shadowColor: 'rgba(0, 0, 0, 0)', shadowOffsetX: 0, shadowOffsetY: 0, imageSmoothingEnabled: true,
});
expose(CanvasRenderingContext2D);
members(HTMLCanvasElement, {
  get width() { return parseInt(this.getAttribute('width') ?? '300', 10) || 300; }, set width(v) { this.setAttribute('width', v); },
  get height() { return parseInt(this.getAttribute('height') ?? '150', 10) || 150; }, set height(v) { this.setAttribute('height', v); },
  getContext(kind) { return kind === '2d' ? (this[CONTEXT] ?? (hide(this, CONTEXT, blankContext(this)), this[CONTEXT])) : null; },
  toDataURL() { return 'data:,'; },
  toBlob(callback) { queueTask(() => callback(null)); },
});
/** A frame has loaded once it is on the page, whatever came of its address: told once for each. */
const tryFrame = (frame) => queueTask(() => {
  const address = `${frame.getAttribute('src')} ${frame.getAttribute('srcdoc')}`;
  if (!frame.isConnected || frame[TRIED] === address) return;
  hide(frame, TRIED, address);
  fire(frame, new Event('load'));
});
/** The text and the type of what an address holds by itself: nothing, data, or a blob of this page. */
const heldAt = (address) => {
  if (/^(?:about:blank.*)?$/.test(address)) return { text: '', type: 'text/html' };
  const data = /^data:([^,;]*)((?:;[^,]*)?),(.*)$/s.exec(address);
  const blob = blobAddresses.get(address);
  const type = (data ? data[1] : blob?.type ?? '').split(';')[0].trim().toLowerCase();
  if (type !== 'text/html' && !XML_TYPES.includes(type)) return null;
  if (blob) return { text: native.decode('utf-8', blob[LIST].slice(), false).replace(/^\ufeff/, ''), type };
  const bytes = /;\s*base64$/i.test(data[2]) ? (text) => new TextDecoder().decode(Uint8Array.from(atob(text), (c) => c.charCodeAt(0))) : decodeURIComponent;
  try { return { text: bytes(data[3]), type }; } catch { return null; }
};
/** What a frame holds: its address and a document of its own. Scripts run in none, and nothing is loaded but what stands in the element. */
const HELD_FRAME = Symbol('frame');
const frameOf = (frame) => {
  if (!frame.isConnected) return null;
  const written = frame.getAttribute('srcdoc');
  const address = written === null ? frame.getAttribute('src') ?? '' : 'about:srcdoc';
  const { text, type } = written === null ? heldAt(address) ?? {} : { text: written, type: 'text/html' };
  if (text === undefined) return null;
  if (frame[HELD_FRAME]?.text !== text || frame[HELD_FRAME].address !== address) {
    const inner = documentFrom(text, type, address || 'about:blank');
    hide(frame, HELD_FRAME, { text, address, document: inner, window: frameWindow(frame, inner, address || 'about:blank') });
  }
  return frame[HELD_FRAME];
};
/** The window of a frame: its document is its own, all that the language and the page offer is the page's. */
const frameWindow = (frame, inner, address) => {
  const target = new EventTarget();
  const own = {
    document: inner, frameElement: frame, parent: globalThis, top: globalThis, name: frame.name, length: 0, closed: false, opener: null,
    location: Object.freeze({ href: address, toString: () => address }),
    addEventListener: target.addEventListener.bind(target), removeEventListener: target.removeEventListener.bind(target), dispatchEvent: target.dispatchEvent.bind(target),
  };
  const proxy = new Proxy(own, {
    get: (it, name) => (name in it ? it[name] : name === 'window' || name === 'self' || name === 'globalThis' || name === 'frames' ? proxy : globalThis[name]),
    has: (it, name) => name in it || name in globalThis,
  });
  hide(inner, FRAME_VIEW, proxy);
  return proxy;
};
const FRAME_VIEW = Symbol('view');
members(HTMLIFrameElement, { get contentWindow() { return frameOf(this)?.window ?? null; }, get contentDocument() { return frameOf(this)?.document ?? null; } });
members(HTMLStyleElement, {
  get sheet() { return sheetOf(this); },
  get disabled() { return false; }, set disabled(_) {},
});
members(HTMLScriptElement, { get text() { return this.textContent; }, set text(v) { this.textContent = String(v); } });
members(HTMLTableRowElement, {
  get cells() { return liveCollection(this, 'cells', HTMLCollection, () => native.child_elements(this[ID]).filter((i) => /^t[dh]$/.test(native.local_name(i)))); },
  get rowIndex() { return [...(this.closest('table')?.querySelectorAll('tr') ?? [])].indexOf(this); },
  get sectionRowIndex() { return [...(this.parentNode?.children ?? [])].indexOf(this); },
  insertCell(i = -1) { const c = document.createElement('td'); this.insertBefore(c, this.cells[i] ?? null); return c; },
  deleteCell(i) { this.cells[i < 0 ? this.cells.length - 1 : i]?.remove(); },
});
members(HTMLTableCellElement, { get cellIndex() { return this.parentNode instanceof HTMLTableRowElement ? [...this.parentNode.cells].indexOf(this) : -1; } });
/** HTML §4.9: rows, sections and captions of tables, found and made. */
const rowsOf = (parent) => native.child_elements(parent[ID]).filter((i) => native.local_name(i) === 'tr');
const rowAt = (owner, rows, index) => {
  if (index < -1 || index > rows.length) throw new DOMException(`There is no place ${index} among ${rows.length} rows.`, 'IndexSizeError');
  return index === -1 || index === rows.length ? null : rows[index];
};
members(HTMLTableSectionElement, {
  get rows() { return liveCollection(this, 'rows', HTMLCollection, () => rowsOf(this)); },
  insertRow(index = -1) {
    const before = rowAt(this, this.rows, index);
    return this.insertBefore(document.createElement('tr'), before);
  },
  deleteRow(index) { (index === -1 ? this.rows[this.rows.length - 1] : rowAt(this, this.rows, index))?.remove(); },
});
const tablePart = (table, names) => [...table.children].filter((c) => names.includes(c.localName));
const makePart = (table, name, before) => tablePart(table, [name])[0] ?? table.insertBefore(document.createElement(name), before());
const afterHead = (table) => [...table.children].find((c) => !['caption', 'colgroup'].includes(c.localName)) ?? null;
members(HTMLTableElement, {
  get caption() { return tablePart(this, ['caption'])[0] ?? null; },
  get tHead() { return tablePart(this, ['thead'])[0] ?? null; },
  get tFoot() { return tablePart(this, ['tfoot'])[0] ?? null; },
  get tBodies() { return liveCollection(this, 'tBodies', HTMLCollection, () => tablePart(this, ['tbody']).map(idOf)); },
  get rows() {
    // Those of heads first, of feet last (HTML §4.9.1).
    return liveCollection(this, 'rows', HTMLCollection, () => {
      const middle = [...this.children].flatMap((c) => (c.localName === 'tr' ? [c[ID]] : c.localName === 'tbody' ? rowsOf(c) : []));
      return [...tablePart(this, ['thead']).flatMap(rowsOf), ...middle, ...tablePart(this, ['tfoot']).flatMap(rowsOf)];
    });
  },
  createCaption() { return makePart(this, 'caption', () => this.firstChild); },
  createTHead() { return makePart(this, 'thead', () => afterHead(this)); },
  createTFoot() { return makePart(this, 'tfoot', () => null); },
  createTBody() { return this.insertBefore(document.createElement('tbody'), tablePart(this, ['tbody']).at(-1)?.nextSibling ?? null); },
  deleteCaption() { this.caption?.remove(); },
  deleteTHead() { this.tHead?.remove(); },
  deleteTFoot() { this.tFoot?.remove(); },
  insertRow(index = -1) {
    const rows = this.rows;
    const before = rowAt(this, rows, index);
    const row = document.createElement('tr');
    if (before) return before.parentNode.insertBefore(row, before);
    const parent = rows.length ? rows[rows.length - 1].parentNode : tablePart(this, ['tbody']).at(-1) ?? this.createTBody();
    return parent.appendChild(row);
  },
  deleteRow(index) { (index === -1 ? this.rows[this.rows.length - 1] : rowAt(this, this.rows, index))?.remove(); },
});
const numeric = (C, name, fallback) => accessor(C.prototype, name, function () {
  const v = parseFloat(this.getAttribute(name.toLowerCase()) ?? '');
  return Number.isNaN(v) ? fallback : v;
}, function (v) { this.setAttribute(name.toLowerCase(), v); });
/** A number between what an element itself says are its bounds. */
const bounded = (C, name, fallback, between) => {
  numeric(C, name, NaN);
  const { get, set } = Object.getOwnPropertyDescriptor(C.prototype, name);
  accessor(C.prototype, name, function () {
    const v = get.call(this);
    const [least, most] = between(this);
    return Math.max(least, Math.min(most, Number.isNaN(v) ? fallback(this) : v));
  }, set);
};
bounded(HTMLProgressElement, 'value', () => 0, (e) => [0, e.max]);
accessor(HTMLProgressElement.prototype, 'max', function () {
  const v = parseFloat(this.getAttribute('max') ?? '');
  return v > 0 ? v : 1;
}, function (v) { if (v > 0) this.setAttribute('max', v); });
// HTML §4.10.14: each bound holds for those that come after it.
bounded(HTMLMeterElement, 'min', () => 0, () => [-Infinity, Infinity]);
bounded(HTMLMeterElement, 'max', () => 1, (e) => [e.min, Infinity]);
bounded(HTMLMeterElement, 'value', () => 0, (e) => [e.min, e.max]);
bounded(HTMLMeterElement, 'low', (e) => e.min, (e) => [e.min, e.max]);
bounded(HTMLMeterElement, 'high', (e) => e.max, (e) => [e.low, e.max]);
bounded(HTMLMeterElement, 'optimum', (e) => (e.min + e.max) / 2, (e) => [e.min, e.max]);
members(HTMLProgressElement, { get position() { return this.hasAttribute('value') ? this.value / this.max : -1; } });
members(HTMLOutputElement, {
  get value() { return this.textContent; }, set value(v) { this.textContent = v; }, get defaultValue() { return this.textContent; },
  get type() { return 'output'; }, get htmlFor() { return tokenList(this, 'for'); },
});

// --- forms ---------------------------------------------------------------------------------------------------------

/** Names of what a browser fills in (HTML §4.10.18.7.1), those that a kind of contact may stand before apart. */
const FILLED_IN = new Set(('name honorific-prefix given-name additional-name family-name honorific-suffix nickname organization-title username new-password '
  + 'current-password one-time-code organization street-address address-line1 address-line2 address-line3 address-level4 address-level3 address-level2 '
  + 'address-level1 country country-name postal-code cc-name cc-given-name cc-additional-name cc-family-name cc-number cc-exp cc-exp-month cc-exp-year cc-csc '
  + 'cc-type transaction-currency transaction-amount language bday bday-day bday-month bday-year sex url photo').split(' '));
const OF_CONTACT = new Set('tel tel-country-code tel-national tel-area-code tel-local tel-local-prefix tel-local-suffix tel-extension email impp'.split(' '));
/** What `autocomplete` reads as (HTML §4.10.18.7.2): nothing where the attribute is not valid. */
const autofill = (e) => {
  const tokens = (e.getAttribute('autocomplete') ?? '').toLowerCase().split(/[\t\n\f\r ]+/).filter(Boolean);
  const credential = tokens.at(-1) === 'webauthn' ? tokens.pop() : null;
  const field = tokens.pop();
  if (field === 'off' || field === 'on') return tokens.length || credential || e.type === 'hidden' ? '' : field;
  if (!FILLED_IN.has(field) && !OF_CONTACT.has(field)) return '';
  const taken = [field];
  if (OF_CONTACT.has(field) && ['home', 'work', 'mobile', 'fax', 'pager'].includes(tokens.at(-1))) taken.unshift(tokens.pop());
  if (['shipping', 'billing'].includes(tokens.at(-1))) taken.unshift(tokens.pop());
  if (tokens.at(-1)?.startsWith('section-')) taken.unshift(tokens.pop());
  if (credential) taken.push(credential);
  return tokens.length ? '' : taken.join(' ');
};
for (const C of [HTMLInputElement, HTMLSelectElement, HTMLTextAreaElement]) {
  accessor(C.prototype, 'autocomplete', function () { return autofill(this); }, function (v) { this.setAttribute('autocomplete', v); });
}

const LABELED = {
  get labels() { return native.labelable(this[ID]) ? staticList(native.labels(this[ID]).map(wrap)) : null; },
};
mixin(LABELED, HTMLInputElement, HTMLButtonElement, HTMLSelectElement, HTMLTextAreaElement, HTMLMeterElement, HTMLProgressElement, HTMLOutputElement);
mixin({ get form() { return wrap(native.form_owner(this[ID])); } },
  HTMLInputElement, HTMLButtonElement, HTMLSelectElement, HTMLTextAreaElement, HTMLFieldSetElement, HTMLOutputElement, HTMLOptionElement, HTMLObjectElement);
/** Of the field set that it heads. */
members(HTMLLegendElement, { get form() { return this.parentNode instanceof HTMLFieldSetElement ? this.parentNode.form : null; } });
members(HTMLLabelElement, {
  /** One that cannot take the focus itself hands it to its control. */
  focus(options) { (native.focusable(this[ID]) ? this : this.control ?? this) === this ? HTMLElement.prototype.focus.call(this, options) : this.control.focus(options); },
  get control() { return wrap(native.labeled_control(this[ID])); }, get form() { return this.control?.form ?? null; } });

const selectable = (e) => {
  if (e instanceof HTMLTextAreaElement) return true;
  return ['text', 'search', 'url', 'tel', 'password'].includes(e.type);
};
/** In the order of the numbers by which the document knows them. */
const DIRECTIONS = ['none', 'forward', 'backward'];
const mustSelect = (e) => {
  if (!selectable(e)) throw new DOMException(`An input of type '${e.type}' has no selection.`, 'InvalidStateError');
};
/** Selects a stretch of a field (HTML §4.10.20, "set the selection range"). */
const selectRange = (e, start, end, direction) => {
  end = Math.min(end >>> 0, e.value.length);
  native.set_selection(e[ID], Math.min(start >>> 0, end), end, Math.max(0, DIRECTIONS.indexOf(direction)));
};
const SELECTION = {
  get selectionStart() { return selectable(this) ? native.selection(this[ID])[0] : null; },
  set selectionStart(v) { mustSelect(this); selectRange(this, v, Math.max(v, this.selectionEnd), this.selectionDirection); },
  get selectionEnd() { return selectable(this) ? native.selection(this[ID])[1] : null; },
  set selectionEnd(v) { mustSelect(this); selectRange(this, Math.min(v, this.selectionStart), v, this.selectionDirection); },
  get selectionDirection() { return selectable(this) ? DIRECTIONS[native.selection(this[ID])[2]] : null; },
  set selectionDirection(v) { mustSelect(this); selectRange(this, this.selectionStart, this.selectionEnd, String(v)); },
  setSelectionRange(start, end, direction) {
    mustSelect(this);
    selectRange(this, start, end, direction === undefined ? 'none' : String(direction));
  },
  setRangeText(text, start = this.selectionStart, end = this.selectionEnd, mode = 'preserve') {
    mustSelect(this);
    const v = this.value;
    if (start > end) throw new DOMException('The start lies behind the end.', 'IndexSizeError');
    [start, end] = [Math.min(start, v.length), Math.min(end, v.length)];
    let [from, to] = [this.selectionStart, this.selectionEnd];
    this.value = v.slice(0, start) + text + v.slice(end);
    const at = start + String(text).length;
    if (mode === 'select') [from, to] = [start, at];
    else if (mode === 'start') from = to = start;
    else if (mode === 'end') from = to = at;
    else {
      // `preserve`: what lay behind the old text moves with its end, what lay within it goes to the ends of the new one.
      const moved = at - end;
      from = from > end ? from + moved : from > start ? start : from;
      to = to > end ? to + moved : to > start ? at : to;
    }
    this.setSelectionRange(from, to);
  },
  select() {
    if (selectable(this)) selectRange(this, 0, this.value.length, 'none');
    fire(this, new Event('select', { bubbles: true }));
  },
};
mixin(SELECTION, HTMLInputElement, HTMLTextAreaElement);

class ValidityState {
  constructor() { throw illegal(); }
}
/** What can be wrong with a value, in the order of the bits that the document gives (HTML §4.10.20.1). */
const VALIDITY = ['valueMissing', 'typeMismatch', 'patternMismatch', 'tooLong', 'tooShort', 'rangeUnderflow', 'rangeOverflow', 'stepMismatch', 'badInput', 'customError'];
VALIDITY.forEach((name, bit) => accessor(ValidityState.prototype, name, function () { return (native.faults(this[LIST][ID]) & (1 << bit)) !== 0; }));
accessor(ValidityState.prototype, 'valid', function () { return native.faults(this[LIST][ID]) === 0; });
/** The validity of an element: the same object each time. */
const validityState = (element) => {
  const known = element[COLLECTIONS] ?? (hide(element, COLLECTIONS, new Map()), element[COLLECTIONS]);
  if (!known.has('validity')) {
    const state = Object.create(ValidityState.prototype);
    hide(state, LIST, element);
    known.set('validity', state);
  }
  return known.get('validity');
};
const isWrong = (element) => native.validates(element[ID]) && native.faults(element[ID]) !== 0;
mixin({
  get willValidate() { return native.validates(this[ID]); },
  get validity() { return validityState(this); },
  get validationMessage() { return native.validates(this[ID]) ? native.validation_message(this[ID]) : ''; },
  checkValidity() {
    if (!isWrong(this)) return true;
    fire(this, new Event('invalid', { cancelable: true }));
    return false;
  },
  reportValidity() {
    const ok = this.checkValidity();
    if (!ok) this.focus();
    return ok;
  },
  setCustomValidity(message) { native.set_custom_validity(this[ID], String(message)); },
}, HTMLInputElement, HTMLButtonElement, HTMLSelectElement, HTMLTextAreaElement, HTMLFieldSetElement, HTMLOutputElement, HTMLObjectElement);

members(HTMLInputElement, {
  get type() { return native.input_type(this[ID]); },
  set type(v) { this.setAttribute('type', v); },
  get value() { return native.value(this[ID]); },
  set value(v) {
    v = v === null ? '' : String(v);
    if (this.type === 'file') {
      if (v !== '') throw new DOMException('A file field can only be emptied by a script.', 'InvalidStateError');
      hide(this, FILES, undefined);
      native.mark_filled(this[ID], false);
      return;
    }
    native.set_value(this[ID], v);
  },
  get checked() { return native.checked(this[ID]); },
  set checked(v) { native.set_checked(this[ID], !!v); },
  get indeterminate() { return native.indeterminate(this[ID]); },
  set indeterminate(v) { native.set_indeterminate(this[ID], !!v); },
  get valueAsNumber() { return native.input_number(this[ID]); },
  set valueAsNumber(v) {
    v = Number(v);
    if (v === Infinity || v === -Infinity) throw new TypeError('The value is infinite.');
    if (!NUMBERED.includes(this.type)) throw new DOMException(`An input of type '${this.type}' has no number.`, 'InvalidStateError');
    if (Number.isNaN(v)) this.value = '';
    else native.set_input_number(this[ID], v);
  },
  get valueAsDate() {
    const n = DATED.includes(this.type) ? native.input_number(this[ID]) : NaN;
    if (Number.isNaN(n)) return null;
    return this.type === 'month' ? new Date(Date.UTC(1970, n)) : new Date(n);
  },
  set valueAsDate(d) {
    if (!DATED.includes(this.type)) throw new DOMException(`An input of type '${this.type}' has no date.`, 'InvalidStateError');
    if (d !== null && !(d instanceof Date)) throw new TypeError('The value is no Date.');
    if (d === null || Number.isNaN(+d)) this.value = '';
    else native.set_input_number(this[ID], this.type === 'month' ? (d.getUTCFullYear() - 1970) * 12 + d.getUTCMonth() : +d);
  },
  get files() {
    if (this.type !== 'file') return null;
    if (!this[FILES]) hide(this, FILES, fileList([]));
    return this[FILES];
  },
  set files(v) {
    if (this.type !== 'file' || v === null) return;
    hide(this, FILES, v);
    native.mark_filled(this[ID], v.length > 0);
  },
  get list() {
    const id = this.getAttribute('list');
    const found = id ? document.getElementById(id) : null;
    return found?.localName === 'datalist' ? found : null;
  },
  get size() { return parseInt(this.getAttribute('size') ?? '20', 10) || 20; },
  set size(v) { this.setAttribute('size', v); },
  stepUp(n = 1) { step(this, Math.trunc(n)); },
  stepDown(n = 1) { step(this, -Math.trunc(n)); },
  showPicker() {},
});
const FILES = Symbol('files');
const fileList = (files) => Object.assign(Object.create(FileList.prototype), { ...files, length: files.length });
class FileList {
  item(i) { return this[i] ?? null; }
  *[Symbol.iterator]() { for (let i = 0; i < this.length; i++) yield this[i]; }
}
expose(FileList, ValidityState);
const DATED = ['date', 'month', 'week', 'time'];
const NUMBERED = [...DATED, 'datetime-local', 'number', 'range'];
const step = (e, n) => {
  if (!native.has_steps(e[ID])) throw new DOMException('The input has no steps.', 'InvalidStateError');
  native.step(e[ID], n);
};
members(HTMLTextAreaElement, {
  get type() { return 'textarea'; },
  get value() { return native.value(this[ID]); },
  set value(v) { native.set_value(this[ID], v === null ? '' : String(v)); },
  get defaultValue() { return [...this.childNodes].map((n) => (n.nodeType === 3 ? n.data : '')).join(''); },
  set defaultValue(v) { this.textContent = String(v); },
  get textLength() { return this.value.length; },
  get rows() { return parseInt(this.getAttribute('rows') ?? '2', 10) || 2; },
  set rows(v) { this.setAttribute('rows', v); },
  get cols() { return parseInt(this.getAttribute('cols') ?? '20', 10) || 20; },
  set cols(v) { this.setAttribute('cols', v); },
});
members(HTMLOptionElement, {
  get value() { return native.value(this[ID]); },
  set value(v) { this.setAttribute('value', v); },
  get text() { return native.option_text(this[ID]); },
  set text(v) { this.textContent = String(v); },
  get label() { return this.getAttribute('label') ?? this.text; },
  set label(v) { this.setAttribute('label', v); },
  get selected() { return native.selected(this[ID]); },
  set selected(v) { native.choose(this[ID], !!v); },
  /** Of its select. */
  get form() { return this.closest('select')?.form ?? null; },
  get index() { const s = this.closest('select'); return s ? [...s.options].indexOf(this) : 0; },
});
members(HTMLSelectElement, {
  get type() { return this.multiple ? 'select-multiple' : 'select-one'; },
  get options() { return liveCollection(this, 'options', HTMLOptionsCollection, () => native.options(this[ID]), { byAttributes: true }); },
  get selectedOptions() { return liveCollection(this, 'selectedOptions', HTMLCollection, () => native.selected_options(this[ID]), { byAttributes: true }); },
  get selectedIndex() { const on = native.selected_options(this[ID])[0]; return on === undefined ? -1 : native.options(this[ID]).indexOf(on); },
  set selectedIndex(i) { this.value = null; const o = native.options(this[ID])[i]; if (o !== undefined) native.choose(o, true); },
  get value() { return native.value(this[ID]); },
  set value(v) {
    const options = native.options(this[ID]);
    for (const o of options) native.choose(o, false);
    const hit = v === null ? undefined : options.find((o) => native.value(o) === String(v));
    if (hit !== undefined) native.choose(hit, true);
  },
  get length() { return native.options(this[ID]).length; },
  get size() { return parseInt(this.getAttribute('size') ?? '0', 10) || 0; },
  set size(v) { this.setAttribute('size', v); },
  item(i) { return this.options.item(i); },
  namedItem(n) { return this.options.namedItem(n); },
  add(option, before = null) { this.insertBefore(option, typeof before === 'number' ? this.options[before] ?? null : before); },
  remove(i) { i === undefined ? CHILD_NODE.remove.call(this) : this.options[i]?.remove(); },
  [Symbol.iterator]() { return this.options[Symbol.iterator](); },
});
members(HTMLFieldSetElement, {
  get type() { return 'fieldset'; },
  get elements() { return liveCollection(this, 'elements', HTMLCollection, () => native.query_all(this[ID], 'button, fieldset, input, object, output, select, textarea'), { byAttributes: true }); },
});
/** What answers for the validity of a control: of a custom element its internals. */
const validityOf = (e) => (e[CUSTOM] ? e[INTERNALS] : e.checkValidity ? e : undefined);
members(HTMLFormElement, {
  get elements() { return liveCollection(this, 'elements', HTMLFormControlsCollection, () => native.form_elements(this[ID]), { byAttributes: true }); },
  get length() { return native.form_elements(this[ID]).length; },
  submit() { /* a form sends nowhere on a stage */ },
  requestSubmit(submitter = null) { submitForm(this, submitter); },
  reset() {
    if (!fire(this, new Event('reset', { bubbles: true, cancelable: true }))) return;
    for (const id of native.form_elements(this[ID])) {
      native.reset_control(id);
      if (wrap(id)[CUSTOM]) enqueueCallback(wrap(id), 'formResetCallback');
    }
  },
  checkValidity() { return [...this.elements].map((e) => validityOf(e)?.checkValidity() ?? true).every(Boolean); },
  reportValidity() {
    const bad = [...this.elements].filter((e) => validityOf(e)?.checkValidity() === false);
    bad[0]?.focus();
    return bad.length === 0;
  },
  *[Symbol.iterator]() { yield* this.elements; },
});
// Named properties of forms (HTML §4.10.3): `form.label` is the control of that name. The names come after all that the
// interfaces have, so that a script's own members stay what they are.
Object.setPrototypeOf(HTMLFormElement.prototype, new Proxy(HTMLElement.prototype, {
  get: (target, key, form) => (key in target || typeof key !== 'string' || form?.[ID] === undefined ? Reflect.get(target, key, form) : form.elements.namedItem(key) ?? undefined),
}));
globalThis.Image = function (width, height) {
  const img = document.createElement('img');
  if (width !== undefined) img.width = width;
  if (height !== undefined) img.height = height;
  return img;
};
globalThis.Option = function (text = '', value, defaultSelected = false, selected = false) {
  const option = document.createElement('option');
  if (text !== '') option.textContent = text;
  if (value !== undefined) option.value = value;
  option.defaultSelected = defaultSelected;
  if (selected) option.selected = true;
  return option;
};
globalThis.Image.prototype = HTMLImageElement.prototype;
globalThis.Option.prototype = HTMLOptionElement.prototype;
hide(globalThis, 'Image', globalThis.Image);
hide(globalThis, 'Option', globalThis.Option);

// --- SVG and MathML ------------------------------------------------------------------------------------------------

class SVGElement extends Element {
  get style() { return styleOf(this); }
  set style(text) { styleOf(this).cssText = text; }
  get className() { return { baseVal: this.getAttribute('class') ?? '', animVal: this.getAttribute('class') ?? '' }; }
  get ownerSVGElement() { return this.parentNode instanceof Element ? this.parentNode.closest('svg') : null; }
  get viewportElement() { return this.ownerSVGElement; }
  get tabIndex() { return parseInt(this.getAttribute('tabindex') ?? '-1', 10); }
  set tabIndex(v) { this.setAttribute('tabindex', v); }
  focus() { moveFocus(this); }
  blur() { HTMLElement.prototype.blur.call(this); }
}
Object.defineProperty(SVGElement.prototype, 'dataset', Object.getOwnPropertyDescriptor(HTMLElement.prototype, 'dataset'));
defineHandlers(SVGElement.prototype, HANDLER_NAMES);
enumerable(SVGElement);
class SVGGraphicsElement extends SVGElement {
  getBBox() { return new DOMRect(0, 0, 0, 0); }
  getCTM() { return null; }
  getScreenCTM() { return null; }
}
class SVGGeometryElement extends SVGGraphicsElement {
  getTotalLength() { return 0; }
  getPointAtLength() { return { x: 0, y: 0 }; }
}
expose(SVGElement, SVGGraphicsElement, SVGGeometryElement);
const SVG_TAGS = new Map();
for (const [names, Base] of [
  ['SVG G Defs Use Symbol A Switch ForeignObject Image Text', SVGGraphicsElement],
  ['Path Rect Circle Ellipse Line Polyline Polygon', SVGGeometryElement],
  ['Title Desc Stop LinearGradient RadialGradient ClipPath Mask Pattern Filter Marker Style Animate', SVGElement],
]) {
  for (const name of names.split(' ')) {
    const C = { [`SVG${name}Element`]: class extends Base {} }[`SVG${name}Element`];
    expose(C);
    SVG_TAGS.set(name === 'SVG' ? 'svg' : name[0].toLowerCase() + name.slice(1), C);
  }
}
class MathMLElement extends Element {}
Object.defineProperty(MathMLElement.prototype, 'style', Object.getOwnPropertyDescriptor(HTMLElement.prototype, 'style'));
expose(MathMLElement);

/** The prototype of a node, from what `native.kind` says: a node type, or `h:`, `s:`, `m:`, `o:` and the local name. */
const prototypeOf = (kind) => {
  switch (kind[0]) {
    case 'h': {
      const tag = kind.slice(2);
      // HTML §3.2.2: a name with a hyphen may become a custom element, so it is no unknown one.
      return (TAGS.get(tag) ?? (tag.includes('-') ? HTMLElement : HTMLUnknownElement)).prototype;
    }
    case 's': return (SVG_TAGS.get(kind.slice(2)) ?? SVGElement).prototype;
    case 'm': return MathMLElement.prototype;
    case 'o': return Element.prototype;
    case '3': return Text.prototype;
    case '7': return ProcessingInstruction.prototype;
    case '8': return Comment.prototype;
    case '9': return Document.prototype;
    case 'd': return DocumentType.prototype;
    case 'r': return ShadowRoot.prototype;
    default: return DocumentFragment.prototype;
  }
};
