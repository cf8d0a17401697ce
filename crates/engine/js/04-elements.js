// Elements: attributes, class lists, inline style, data sets, HTML in and out. DOM §4.9, CSSOM §6.6, HTML §3.2.

class NamedNodeMap {
  constructor() { throw illegal(); }
  get length() { return native.attr_names(this[LIST].owner[ID]).length; }
  item(index) { return this[index] ?? null; }
  getNamedItem(name) { return this[LIST].owner.getAttributeNode(name); }
  setNamedItem(attr) { return this[LIST].owner.setAttributeNode(attr); }
  removeNamedItem(name) { const a = this.getNamedItem(name); this[LIST].owner.removeAttribute(name); return a; }
  *[Symbol.iterator]() { for (const name of native.attr_names(this[LIST].owner[ID])) yield attrNode(this[LIST].owner, name); }
}
const attributeHandler = {
  get(target, key, receiver) {
    if (typeof key === 'string') {
      const owner = target[LIST].owner;
      const names = native.attr_names(owner[ID]);
      if (INDEX.test(key)) return key < names.length ? attrNode(owner, names[key]) : undefined;
      if (!(key in target) && names.includes(key)) return attrNode(owner, key);
    }
    return Reflect.get(target, key, receiver);
  },
  has(target, key) { return Reflect.has(target, key) || native.attr_names(target[LIST].owner[ID]).includes(key); },
};

const tokensOf = (list) => [...new Set((list[LIST].owner.getAttribute(list[LIST].attribute) ?? '').split(/[\t\n\f\r ]+/).filter(Boolean))];
const writeTokens = (list, tokens) => {
  const { owner, attribute } = list[LIST];
  if (tokens.length === 0 && !owner.hasAttribute(attribute)) return;
  owner.setAttribute(attribute, tokens.join(' '));
};
const checkToken = (token) => {
  token = String(token);
  if (token === '') throw new DOMException('The token provided must not be empty.', 'SyntaxError');
  if (/[\t\n\f\r ]/.test(token)) throw new DOMException(`The token provided ('${token}') contains white space.`, 'InvalidCharacterError');
  return token;
};
class DOMTokenList {
  constructor() { throw illegal(); }
  get length() { return tokensOf(this).length; }
  get value() { return this[LIST].owner.getAttribute(this[LIST].attribute) ?? ''; }
  set value(v) { this[LIST].owner.setAttribute(this[LIST].attribute, v); }
  item(index) { return tokensOf(this)[index] ?? null; }
  contains(token) { return tokensOf(this).includes(String(token)); }
  add(...tokens) { tokens = tokens.map((t) => checkToken(t)); writeTokens(this, [...new Set([...tokensOf(this), ...tokens])]); }
  remove(...tokens) { tokens = tokens.map((t) => checkToken(t)); writeTokens(this, tokensOf(this).filter((t) => !tokens.includes(t))); }
  toggle(token, force) {
    token = checkToken(token);
    const there = this.contains(token);
    if (there && force !== true) { this.remove(token); return false; }
    if (!there && force !== false) { this.add(token); return true; }
    return there;
  }
  replace(old, token) {
    [old, token] = [checkToken(old), checkToken(token)];
    const tokens = tokensOf(this);
    if (!tokens.includes(old)) return false;
    writeTokens(this, [...new Set(tokens.map((t) => (t === old ? token : t)))]);
    return true;
  }
  supports() { return true; }
  forEach(f, self) { tokensOf(this).forEach((t, i) => f.call(self, t, i, this)); }
  toString() { return this.value; }
  entries() { return tokensOf(this).entries(); }
  keys() { return tokensOf(this).keys(); }
  values() { return tokensOf(this).values(); }
  [Symbol.iterator]() { return tokensOf(this).values(); }
}
enumerable(DOMTokenList);
const tokenList = (owner, attribute) => {
  const key = 'tokens ' + attribute;
  const all = owner[COLLECTIONS] ?? (hide(owner, COLLECTIONS, new Map()), owner[COLLECTIONS]);
  let list = all.get(key);
  if (!list) {
    list = Object.create(DOMTokenList.prototype);
    hide(list, LIST, { owner, attribute });
    all.set(key, list);
  }
  return list;
};

const PROPERTIES = ('accentColor alignContent alignItems alignSelf all animation animationDelay animationDirection animationDuration animationFillMode animationIterationCount animationName animationPlayState animationTimingFunction appearance aspectRatio backdropFilter backfaceVisibility background backgroundAttachment backgroundBlendMode backgroundClip backgroundColor backgroundImage backgroundOrigin backgroundPosition backgroundPositionX backgroundPositionY backgroundRepeat backgroundSize blockSize border borderBlock borderBlockColor borderBlockEnd borderBlockEndColor borderBlockEndStyle borderBlockEndWidth borderBlockStart borderBlockStartColor borderBlockStartStyle borderBlockStartWidth borderBlockStyle borderBlockWidth borderBottom borderBottomColor borderBottomLeftRadius borderBottomRightRadius borderBottomStyle borderBottomWidth borderCollapse borderColor borderEndEndRadius borderEndStartRadius borderImage borderImageOutset borderImageRepeat borderImageSlice borderImageSource borderImageWidth borderInline borderInlineColor borderInlineEnd borderInlineEndColor borderInlineEndStyle borderInlineEndWidth borderInlineStart borderInlineStartColor borderInlineStartStyle borderInlineStartWidth borderInlineStyle borderInlineWidth borderLeft borderLeftColor borderLeftStyle borderLeftWidth borderRadius borderRight borderRightColor borderRightStyle borderRightWidth borderSpacing borderStartEndRadius borderStartStartRadius borderStyle borderTop borderTopColor borderTopLeftRadius borderTopRightRadius borderTopStyle borderTopWidth borderWidth bottom boxDecorationBreak boxShadow boxSizing breakAfter breakBefore breakInside captionSide caretColor clear clip clipPath clipRule color colorScheme columnCount columnFill columnGap columnRule columnRuleColor columnRuleStyle columnRuleWidth columnSpan columnWidth columns contain container containerName containerType content contentVisibility counterIncrement counterReset counterSet cursor direction display emptyCells fill fillOpacity fillRule filter flex flexBasis flexDirection flexFlow flexGrow flexShrink flexWrap float floodColor floodOpacity font fontFamily fontFeatureSettings fontKerning fontOpticalSizing fontSize fontSizeAdjust fontStretch fontStyle fontSynthesis fontVariant fontVariantCaps fontVariantLigatures fontVariantNumeric fontVariationSettings fontWeight gap grid gridArea gridAutoColumns gridAutoFlow gridAutoRows gridColumn gridColumnEnd gridColumnGap gridColumnStart gridGap gridRow gridRowEnd gridRowGap gridRowStart gridTemplate gridTemplateAreas gridTemplateColumns gridTemplateRows height hyphens imageRendering inlineSize inset insetBlock insetBlockEnd insetBlockStart insetInline insetInlineEnd insetInlineStart isolation justifyContent justifyItems justifySelf left letterSpacing lightingColor lineBreak lineHeight listStyle listStyleImage listStylePosition listStyleType margin marginBlock marginBlockEnd marginBlockStart marginBottom marginInline marginInlineEnd marginInlineStart marginLeft marginRight marginTop marker markerEnd markerMid markerStart mask maskClip maskComposite maskImage maskMode maskOrigin maskPosition maskRepeat maskSize maskType maxBlockSize maxHeight maxInlineSize maxWidth minBlockSize minHeight minInlineSize minWidth mixBlendMode objectFit objectPosition offset offsetDistance offsetPath offsetRotate opacity order orphans outline outlineColor outlineOffset outlineStyle outlineWidth overflow overflowAnchor overflowWrap overflowX overflowY overscrollBehavior overscrollBehaviorX overscrollBehaviorY padding paddingBlock paddingBlockEnd paddingBlockStart paddingBottom paddingInline paddingInlineEnd paddingInlineStart paddingLeft paddingRight paddingTop page paintOrder perspective perspectiveOrigin placeContent placeItems placeSelf pointerEvents position quotes resize right rotate rowGap rubyPosition scale scrollBehavior scrollMargin scrollMarginBottom scrollMarginLeft scrollMarginRight scrollMarginTop scrollPadding scrollPaddingBottom scrollPaddingLeft scrollPaddingRight scrollPaddingTop scrollSnapAlign scrollSnapStop scrollSnapType scrollbarColor scrollbarGutter scrollbarWidth shapeImageThreshold shapeMargin shapeOutside stopColor stopOpacity stroke strokeDasharray strokeDashoffset strokeLinecap strokeLinejoin strokeMiterlimit strokeOpacity strokeWidth tabSize tableLayout textAlign textAlignLast textAnchor textDecoration textDecorationColor textDecorationLine textDecorationSkipInk textDecorationStyle textDecorationThickness textEmphasis textIndent textOrientation textOverflow textRendering textShadow textSizeAdjust textTransform textUnderlineOffset textUnderlinePosition textWrap top touchAction transform transformBox transformOrigin transformStyle transition transitionBehavior transitionDelay transitionDuration transitionProperty transitionTimingFunction translate unicodeBidi userSelect vectorEffect verticalAlign viewTransitionName visibility webkitAppearance webkitBoxOrient webkitFontSmoothing webkitLineClamp webkitMaskImage webkitTapHighlightColor webkitTextFillColor webkitUserSelect whiteSpace whiteSpaceCollapse widows width willChange wordBreak wordSpacing wordWrap writingMode zIndex zoom').split(' ');
const kebab = (name) => {
  if (name === 'cssFloat') return 'float';
  const k = name.replace(/[A-Z]/g, (c) => '-' + c.toLowerCase());
  return k.startsWith('webkit-') ? '-' + k : k;
};
class CSSStyleDeclaration {
  constructor() { throw illegal(); }
  get cssText() { return native.style_normal(this[LIST].text()); }
  set cssText(text) { this[LIST].write(native.style_normal(String(text))); }
  get length() { return native.style_names(this[LIST].text()).length; }
  get parentRule() { return null; }
  item(index) { return native.style_names(this[LIST].text())[index] ?? ''; }
  getPropertyValue(name) { return native.style_get(this[LIST].text(), propertyName(name))[0]; }
  getPropertyPriority(name) { return native.style_get(this[LIST].text(), propertyName(name))[1]; }
  setProperty(name, value, priority = '') {
    value = value == null ? '' : String(value);
    const text = this[LIST].text();
    const next = native.style_set(text, propertyName(name), value, String(priority ?? ''));
    if (next !== text) this[LIST].write(next);
  }
  removeProperty(name) {
    const old = this.getPropertyValue(name);
    this.setProperty(name, '');
    return old;
  }
  *[Symbol.iterator]() { yield* native.style_names(this[LIST].text()); }
}
enumerable(CSSStyleDeclaration);
const propertyName = (name) => (String(name).startsWith('--') ? String(name) : String(name).toLowerCase());
for (const name of [...PROPERTIES, 'cssFloat']) {
  const css = kebab(name);
  const get = function () { return this.getPropertyValue(css); };
  const set = function (value) { this.setProperty(css, value); };
  accessor(CSSStyleDeclaration.prototype, name, get, set);
  if (css !== name) Object.defineProperty(CSSStyleDeclaration.prototype, css, { get, set, enumerable: false, configurable: true });
}
// By number, too: as many as any list is long. A getter for each costs nothing until it is asked.
for (let i = 0; i < 640; i++) Object.defineProperty(CSSStyleDeclaration.prototype, i, { get() { return i < this.length ? this.item(i) : undefined; }, enumerable: false, configurable: true });
const STYLE = Symbol('style');
const styleOf = (element) => {
  if (element[STYLE]) return element[STYLE];
  const style = Object.create(CSSStyleDeclaration.prototype);
  hide(style, LIST, {
    text: () => native.attr(element[ID], 'style') ?? '',
    write: (text) => element.setAttribute('style', text),
  });
  hide(element, STYLE, style);
  return style;
};

const datasetHandler = {
  get: (t, key) => (typeof key === 'string' ? t.owner.getAttribute(dataName(key)) ?? undefined : undefined),
  set: (t, key, value) => { t.owner.setAttribute(dataName(key), value); return true; },
  has: (t, key) => typeof key === 'string' && t.owner.hasAttribute(dataName(key)),
  deleteProperty: (t, key) => { t.owner.removeAttribute(dataName(key)); return true; },
  ownKeys: (t) => t.owner.getAttributeNames().filter((n) => n.startsWith('data-')).map((n) => n.slice(5).replace(/-([a-z])/g, (_, c) => c.toUpperCase())),
  getOwnPropertyDescriptor: (t, key) => {
    const value = t.owner.getAttribute(dataName(key));
    return value === null ? undefined : { value, writable: true, enumerable: true, configurable: true };
  },
  getPrototypeOf: () => DOMStringMap.prototype,
};
class DOMStringMap {}
const dataName = (key) => 'data-' + String(key).replace(/[A-Z]/g, (c) => '-' + c.toLowerCase());

const HTML_NS = 'http://www.w3.org/1999/xhtml';
class Element extends Node {
  get tagName() { return this[TAG] ?? native.node_name(this[ID]); }
  get localName() { return native.local_name(this[ID]); }
  get namespaceURI() { return native.namespace(this[ID]) || null; }
  get prefix() { return native.prefix(this[ID]) || null; }
  get id() { return native.attr(this[ID], 'id') ?? ''; }
  set id(v) { this.setAttribute('id', v); }
  get className() { return native.attr(this[ID], 'class') ?? ''; }
  set className(v) { this.setAttribute('class', v); }
  get slot() { return native.attr(this[ID], 'slot') ?? ''; }
  set slot(v) { this.setAttribute('slot', v); }
  get classList() { return tokenList(this, 'class'); }
  set classList(v) { this.className = v; }
  get part() { return tokenList(this, 'part'); }
  get attributes() {
    return this[COLLECTIONS]?.get('attributes') ?? (() => {
      const target = Object.create(NamedNodeMap.prototype);
      hide(target, LIST, { owner: this });
      const map = new Proxy(target, attributeHandler);
      (this[COLLECTIONS] ?? (hide(this, COLLECTIONS, new Map()), this[COLLECTIONS])).set('attributes', map);
      return map;
    })();
  }
  get innerHTML() { return native.inner_html(this[ID]); }
  set innerHTML(html) { setInnerHTML(this, html); }
  get outerHTML() { return otherDocuments && !isHtml(this.ownerDocument) ? native.xml(this[ID]) : native.outer_html(this[ID]); }
  set outerHTML(html) { this.replaceWith(parseFragment(this.parentNode ?? document.body, html)); }
  insertAdjacentHTML(where, html) {
    const at = String(where).toLowerCase();
    const inside = at === 'afterbegin' || at === 'beforeend';
    insertAdjacent(this, at, parseFragment(inside ? this : this.parentNode, html));
  }
  insertAdjacentElement(where, element) { insertAdjacent(this, String(where).toLowerCase(), element); return element; }
  insertAdjacentText(where, text) { insertAdjacent(this, String(where).toLowerCase(), document.createTextNode(text)); }
  hasAttributes() { return native.attr_names(this[ID]).length > 0; }
  getAttributeNames() { return native.attr_names(this[ID]); }
  getAttribute(name) { return native.attr(this[ID], attributeName(this, name)) ?? null; }
  getAttributeNS(ns, local) { return native.attr_ns(this[ID], ns ?? '', String(local)) ?? null; }
  hasAttribute(name) { return native.attr(this[ID], attributeName(this, name)) !== undefined; }
  hasAttributeNS(ns, local) { return this.getAttributeNS(ns, local) !== null; }
  setAttribute(name, value) {
    if (arguments.length < 2) throw new TypeError("Failed to execute 'setAttribute' on 'Element': 2 arguments required.");
    if (typeof value !== 'string') value = String(value);
    if (!this[IS_HTML]) return changeAttribute(this, validName(String(name)), value);
    const { written, plain } = htmlAttribute(name);
    if (plain && isQuiet()) native.set_attr(this[ID], written, value);
    else changeAttribute(this, written, value);
  }
  setAttributeNS(ns, name, value) {
    if (ns == null || ns === '') return changeAttribute(this, String(name), String(value));
    const local = String(name).replace(/^[^:]*:/, '');
    const old = customOf(this) ? this.getAttributeNS(ns, local) : null;
    native.set_attr_ns(this[ID], String(ns), String(name), String(value));
    if (customOf(this)) changing(() => reactToAttribute(this, local, old, String(value), String(ns)));
  }
  removeAttribute(name) { changeAttribute(this, attributeName(this, name), null); }
  removeAttributeNS(ns, local) {
    const at = native.attr_names(this[ID]).find((n) => n === local || n.endsWith(':' + local));
    if (at) changeAttribute(this, at, null);
  }
  toggleAttribute(name, force) {
    const there = this.hasAttribute(name);
    if (there && force !== true) { this.removeAttribute(name); return false; }
    if (!there && force !== false) { this.setAttribute(name, ''); return true; }
    return there;
  }
  getAttributeNode(name) { return this.hasAttribute(name) ? attrNode(this, attributeName(this, name)) : null; }
  setAttributeNode(attr) {
    const old = this.getAttributeNode(attr.name);
    this.setAttribute(attr.name, attr.value);
    hide(attr, 'ownerElement', this);
    return old;
  }
  removeAttributeNode(attr) { this.removeAttribute(attr.name); return attr; }
  matches(selector) { return native.matches(this[ID], String(selector)); }
  webkitMatchesSelector(selector) { return this.matches(selector); }
  closest(selector) { return wrap(native.closest(this[ID], String(selector))); }
  getElementsByTagName(name) { return byTag(this, name); }
  getElementsByTagNameNS(_, name) { return byTag(this, name); }
  getElementsByClassName(names) { return byClass(this, names); }
  getBoundingClientRect() { return new DOMRect(...native.box(this[ID])); }
  getClientRects() { const n = native.boxes(this[ID]); return Array.from({ length: n.length / 4 }, (_, i) => new DOMRect(...n.slice(4 * i, 4 * i + 4))); }
  checkVisibility(options) {
    if (!this.isConnected || !native.rendered(this[ID]) || native.computed(this[ID], 'display') === 'contents') return false;
    if ((options?.visibilityProperty || options?.checkVisibilityCSS) && native.computed(this[ID], 'visibility') !== 'visible') return false;
    return !((options?.opacityProperty || options?.checkOpacity) && native.computed(this[ID], 'opacity') === '0');
  }
  scrollIntoView(options) { bringIntoView(this, options); }
  scrollTo(x, y) { setScroll(this, typeof x === 'object' ? x.left : x, typeof x === 'object' ? x.top : y); }
  scroll(x, y) { this.scrollTo(x, y); }
  scrollBy(x, y) { const o = typeof x === 'object' ? x : { left: x, top: y }; setScroll(this, this.scrollLeft + (o.left ?? 0), this.scrollTop + (o.top ?? 0)); }
  get scrollTop() { return native.scrolled(this[ID])[1]; }
  set scrollTop(v) { setScroll(this, undefined, v); }
  get scrollLeft() { return native.scrolled(this[ID])[0]; }
  set scrollLeft(v) { setScroll(this, v, undefined); }
  get scrollWidth() { return native.measures(this[ID])[4]; }
  get scrollHeight() { return native.measures(this[ID])[5]; }
  get clientTop() { return native.measures(this[ID])[1]; }
  get clientLeft() { return native.measures(this[ID])[0]; }
  get clientWidth() { return native.measures(this[ID])[2]; }
  get clientHeight() { return native.measures(this[ID])[3]; }
  hasPointerCapture() { return false; }
  setPointerCapture() {}
  releasePointerCapture() {}
}
/** On the prototypes of HTML elements. */
const IS_HTML = Symbol('is html');
/** A small table of what is worked out for names: those of a page are few, those of a hostile one are not kept. */
const remembered = (work) => {
  const known = new Map();
  return (name) => {
    let out = known.get(name);
    if (out === undefined) {
      out = work(name);
      if (known.size < 1000 && typeof name === 'string') known.set(name, out);
    }
    return out;
  };
};
const lowerCase = remembered((name) => String(name).toLowerCase());
const attributeName = (element, name) => (element[IS_HTML] ? lowerCase(name) : String(name));
const validName = remembered((name) => {
  if (name === '' || /[\s>/=\0]/.test(name)) throw new DOMException(`'${name}' is not a valid attribute name.`, 'InvalidCharacterError');
  return name;
});
/** The name of an attribute of an HTML element, and whether nothing but the attribute changes when it is set. */
const htmlAttribute = remembered((name) => {
  const written = validName(lowerCase(name));
  return { written, plain: !written.startsWith('on') && !['src', 'open', 'disabled', 'slot', 'name'].includes(written) };
});
const changeAttribute = (element, name, value) => {
  const watched = mutationSinks.length > 0;
  const custom = definitions.size > 0;
  const oldValue = watched || custom ? native.attr(element[ID], name) ?? null : null;
  const isOpening = name === 'open' && value !== null && element.hasAttribute('open');
  if (value === null) {
    if (!native.remove_attr(element[ID], name)) return;
  } else native.set_attr(element[ID], name, value);
  if (name.startsWith('on')) setHandlerAttribute(element, name, value);
  if (name === 'src' && element instanceof HTMLImageElement) tryPicture(element);
  if ((name === 'src' || name === 'srcdoc') && element instanceof HTMLIFrameElement) tryFrame(element);
  if (name === 'open' && !isOpening && element instanceof HTMLDetailsElement) detailsChanged(element, value !== null);
  if (custom) {
    if (element[CUSTOM]) changing(() => reactToAttribute(element, name, oldValue, value, null));
    else if (name === 'disabled' && element instanceof HTMLFieldSetElement) changing(() => candidates(element).forEach(associate));
  }
  if (shadowed && (name === 'slot' || name === 'name')) slotsChanged();
  if (watched) notify({ type: 'attributes', target: element, attributeName: name, attributeNamespace: null, oldValue, addedNodes: [], removedNodes: [] });
};
const parseFragment = (context, html) => {
  noteHandlers(String(html));
  const fragment = wrap(native.fragment(context[ID], String(html)));
  if (definitions.size > 0 && !inTemplate(context)) changing(() => upgradeAll(fragment));
  return fragment;
};
const insertAdjacent = (element, at, node) => {
  if (at === 'beforebegin') element.parentNode?.insertBefore(node, element);
  else if (at === 'afterbegin') element.insertBefore(node, element.firstChild);
  else if (at === 'beforeend') element.appendChild(node);
  else if (at === 'afterend') element.parentNode?.insertBefore(node, element.nextSibling);
  else throw new DOMException(`'${at}' is not a place: beforebegin, afterbegin, beforeend or afterend.`, 'SyntaxError');
};
const byTag = (root, name) => {
  name = String(name);
  return liveCollection(root, 'tag ' + name, HTMLCollection, () => native.by_tag(root[ID], name));
};
const byClass = (root, names) => {
  names = String(names);
  return liveCollection(root, 'class ' + names, HTMLCollection, () => native.by_class(root[ID], names.split(/\s+/).filter(Boolean)), { byAttributes: true });
};
mixin(CHILD_NODE, Element);
mixin({
  get nextElementSibling() { return wrap(native.sibling_element(this[ID], true)); },
  get previousElementSibling() { return wrap(native.sibling_element(this[ID], false)); },
}, Element);
enumerable(Element);
for (const name of ['children', 'childElementCount', 'firstElementChild', 'lastElementChild', 'append', 'prepend', 'replaceChildren', 'querySelector', 'querySelectorAll']) {
  Object.defineProperty(Element.prototype, name, PARENT_NODE[name]);
}
// ARIA reflection (WAI-ARIA 1.2 §10)
const ARIA_NAMES = ('role ariaAtomic ariaAutoComplete ariaBusy ariaChecked ariaColCount ariaColIndex ariaColSpan ariaCurrent ariaDescription ariaDisabled ariaExpanded ariaHasPopup ariaHidden ariaInvalid ' +
  'ariaKeyShortcuts ariaLabel ariaLevel ariaLive ariaModal ariaMultiLine ariaMultiSelectable ariaOrientation ariaPlaceholder ariaPosInSet ariaPressed ariaReadOnly ariaRequired ' +
  'ariaRoleDescription ariaRowCount ariaRowIndex ariaRowSpan ariaSelected ariaSetSize ariaSort ariaValueMax ariaValueMin ariaValueNow ariaValueText').split(' ');
for (const name of ARIA_NAMES) {
  const attribute = name === 'role' ? 'role' : 'aria-' + name.slice(4).toLowerCase();
  accessor(Element.prototype, name, function () { return this.getAttribute(attribute); },
    function (v) { v == null ? this.removeAttribute(attribute) : this.setAttribute(attribute, v); });
}
class DOMRectReadOnly {
  constructor(x = 0, y = 0, width = 0, height = 0) { Object.assign(this, { x, y, width, height }); }
  get top() { return Math.min(this.y, this.y + this.height); }
  get left() { return Math.min(this.x, this.x + this.width); }
  get bottom() { return Math.max(this.y, this.y + this.height); }
  get right() { return Math.max(this.x, this.x + this.width); }
  toJSON() { const { x, y, width, height, top, right, bottom, left } = this; return { x, y, width, height, top, right, bottom, left }; }
  static fromRect(r = {}) { return new this(r.x, r.y, r.width, r.height); }
}
class DOMRect extends DOMRectReadOnly {}
expose(Element, NamedNodeMap, DOMTokenList, CSSStyleDeclaration, DOMStringMap, DOMRectReadOnly, DOMRect);
