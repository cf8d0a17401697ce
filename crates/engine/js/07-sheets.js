// Stylesheets and their rules as scripts see them, and the computed style: CSSOM §6, §9.

const SHEET_ID = Symbol('sheet id');
const OWNER = Symbol('owner');
/** Rules of a sheet are made when they are asked for; they are the same ones until all are read anew. */
const RULES = Symbol('rules');

class CSSRuleList {
  constructor() { throw illegal(); }
  item(index) { return this[index] ?? null; }
  *[Symbol.iterator]() { for (let i = 0; i < this.length; i++) yield this[i]; }
}
const ruleList = (rules) => {
  const list = Object.create(CSSRuleList.prototype);
  place(list, rules, 0);
  return list;
};
/** Lists stay the same ones while rules come and go: those from here on have another place now. */
const place = (list, rules, from) => {
  for (let i = from; i < rules.length; i++) {
    list[i] = rules[i];
    rules[i][RULE].path[rules[i][RULE].path.length - 1] = i;
  }
  for (let i = rules.length; i in list; i++) delete list[i];
  hide(list, 'length', rules.length);
};
const RULE = Symbol('rule');
class CSSRule {
  constructor() { throw illegal(); }
  get cssText() { return this[RULE].text; }
  set cssText(_) {}
  get parentStyleSheet() { return this[RULE].gone ? null : this[RULE].sheet; }
  get parentRule() { return this[RULE].parent; }
  get type() { return { style: 1, import: 3, media: 4, 'font-face': 5, keyframes: 7, supports: 12 }[this[RULE].kind] ?? 0; }
}
class CSSGroupingRule extends CSSRule {
  get cssRules() {
    const { sheet, path } = this[RULE];
    return (this[RULE].inner ??= ruleList(native.inner_rules(sheet[SHEET_ID], path).map((told, i) => makeRule(told, sheet, this, [...path, i]))));
  }
}
class CSSConditionRule extends CSSGroupingRule { get conditionText() { return this[RULE].head; } }
class CSSMediaRule extends CSSConditionRule { get media() { return mediaList(() => this[RULE].head); } }
class CSSSupportsRule extends CSSConditionRule {}
class CSSContainerRule extends CSSConditionRule {}
class CSSLayerBlockRule extends CSSGroupingRule { get name() { return this[RULE].head; } }
class CSSLayerStatementRule extends CSSRule { get nameList() { return this[RULE].head.split(', '); } }
class CSSKeyframesRule extends CSSRule { get name() { return this[RULE].head; } }
class CSSFontFaceRule extends CSSRule {}
class CSSImportRule extends CSSRule { get href() { return this[RULE].head; } }
class CSSPropertyRule extends CSSRule { get name() { return this[RULE].head; } }
class CSSStyleRule extends CSSGroupingRule {
  get selectorText() { return this[RULE].head; }
  set selectorText(v) { this[RULE].head = String(v); changed(this[RULE]); }
  get style() { return (this[RULE].style ??= styleOfRule(this[RULE])); }
  set style(text) { this.style.cssText = text; }
}
const styleOfRule = (rule) => {
  const style = Object.create(CSSStyleDeclaration.prototype);
  hide(style, LIST, { text: () => rule.body, write: (text) => { rule.body = text; changed(rule); } });
  return style;
};
/** The rule is another one now: its sheet takes it in the place of the one before. */
const changed = (rule) => {
  rule.text = rule.body === '' ? `${rule.head} { }` : `${rule.head} { ${rule.body} }`;
  // A rule within another is shown as it is now, but for its own sheet only those at the top are.
  if (rule.path.length === 1 && !rule.gone) rule.text = native.sheet_change(rule.sheet[SHEET_ID], rule.path[0], rule.head, rule.body);
};
const RULE_CLASSES = {
  style: CSSStyleRule, media: CSSMediaRule, supports: CSSSupportsRule, container: CSSContainerRule, layer: CSSLayerBlockRule,
  'layer-statement': CSSLayerStatementRule, keyframes: CSSKeyframesRule, 'font-face': CSSFontFaceRule, import: CSSImportRule, property: CSSPropertyRule,
};
const makeRule = ([kind, head, body, text], sheet, parent, path) => {
  const rule = Object.create((RULE_CLASSES[kind] ?? CSSRule).prototype);
  hide(rule, RULE, { kind, head, body, text, sheet, parent, path });
  return rule;
};
const mediaList = (text) => ({ get mediaText() { return text(); }, get length() { return text() === '' ? 0 : text().split(',').length; }, item: (i) => text().split(',')[i]?.trim() ?? null, toString: text });

class StyleSheet {
  get ownerNode() { return this[OWNER] ?? null; }
  get type() { return 'text/css'; }
  get href() { return null; }
  get title() { return this[OWNER]?.getAttribute('title') ?? null; }
  get parentStyleSheet() { return null; }
  get media() { return mediaList(() => this[OWNER]?.getAttribute('media') ?? ''); }
}
class CSSStyleSheet extends StyleSheet {
  #disabled = false;
  constructor(options = {}) {
    super();
    hide(this, SHEET_ID, options?.[HOST] ?? native.sheet_new());
    if (options?.disabled) this.disabled = true;
  }
  #constructed() { if (this[OWNER]) throw new DOMException('Only what a script constructed can be replaced.', 'NotAllowedError'); }
  get ownerRule() { return null; }
  get disabled() { return this.#disabled; }
  set disabled(off) { this.#disabled = !!off; native.sheet_disable(this[SHEET_ID], this.#disabled); }
  get cssRules() {
    return this.#current().list;
  }
  /** The rules that scripts hold, as long as they are those of the sheet. */
  #current() {
    if (this[OWNER]) native.sheet_of(this[OWNER][ID]);
    const turn = native.sheet_turn(this[SHEET_ID]);
    if (this[RULES]?.turn !== turn) {
      const rules = native.sheet_rules(this[SHEET_ID]).map((told, i) => makeRule(told, this, null, [i]));
      hide(this, RULES, { turn, rules, list: ruleList(rules) });
    }
    return this[RULES];
  }
  get rules() { return this.cssRules; }
  insertRule(text, index = 0) {
    const { rules, list } = this.#current();
    index >>>= 0;
    const fault = native.sheet_insert(this[SHEET_ID], String(text), index);
    if (fault) throw new DOMException(fault === 'SyntaxError' ? `Failed to parse the rule '${text}'.` : `There is no place ${index}.`, fault);
    rules.splice(index, 0, makeRule(native.sheet_rule(this[SHEET_ID], index), this, null, [index]));
    place(list, rules, index);
    return index;
  }
  deleteRule(index) {
    const { rules, list } = this.#current();
    index >>>= 0;
    const fault = native.sheet_delete(this[SHEET_ID], index);
    if (fault) throw new DOMException(`There is no rule ${index}.`, fault);
    rules.splice(index, 1)[0][RULE].gone = true;
    place(list, rules, index);
  }
  addRule(selector, style, index) { this.insertRule(`${selector} { ${style} }`, index ?? this.cssRules.length); return -1; }
  removeRule(index = 0) { this.deleteRule(index); }
  replaceSync(text) { this.#constructed(); native.sheet_replace(this[SHEET_ID], String(text)); }
  replace(text) { try { this.replaceSync(text); return Promise.resolve(this); } catch (error) { return Promise.reject(error); } }
}
enumerable(CSSStyleSheet);
expose(CSSRuleList, CSSRule, CSSGroupingRule, CSSConditionRule, CSSMediaRule, CSSSupportsRule, CSSContainerRule, CSSLayerBlockRule, CSSLayerStatementRule,
  CSSKeyframesRule, CSSFontFaceRule, CSSImportRule, CSSPropertyRule, CSSStyleRule, StyleSheet, CSSStyleSheet);

const SHEET = Symbol('sheet');
/** The sheet of a `<style>`; none off the document, and where it is no CSS. */
const sheetOf = (style) => {
  if (!style.isConnected || !native.is_sheet(style[ID])) return null;
  if (!style[SHEET]) {
    const sheet = new CSSStyleSheet({ [HOST]: native.sheet_of(style[ID]) });
    hide(sheet, OWNER, style);
    hide(style, SHEET, sheet);
  }
  return style[SHEET];
};

class StyleSheetList {
  constructor() { throw illegal(); }
  item(index) { return this[index] ?? null; }
  *[Symbol.iterator]() { for (let i = 0; i < this.length; i++) yield this[i]; }
}
expose(StyleSheetList);
const sheetList = (root) => {
  const list = Object.create(StyleSheetList.prototype);
  const sheets = [...root.querySelectorAll('style')].map(sheetOf).filter(Boolean);
  sheets.forEach((sheet, i) => { list[i] = sheet; });
  hide(list, 'length', sheets.length);
  return list;
};

const ADOPTED = Symbol('adopted');
const hand = (root, sheets) => {
  if (!sheets.every((s) => s instanceof CSSStyleSheet)) throw new TypeError('Only stylesheets can be adopted.');
  if (sheets.some((s) => s.ownerNode)) throw new DOMException('Only stylesheets that a script constructed can be adopted.', 'NotAllowedError');
  native.adopt(root[ID], sheets.map((s) => s[SHEET_ID]).join(' '));
};
/** The sheets that scripts gave to a tree. The array may be changed in place (CSSOM §6.2.3, an observable array). */
const adoptedSheets = (root) => root[ADOPTED]?.shown ?? adoptSheets(root, []);
const adoptSheets = (root, sheets) => {
  const list = [...sheets];
  hand(root, list);
  const shown = new Proxy(list, {
    set(target, key, value) {
      const before = [...target];
      target[key] = value;
      if (key === 'length' || INDEX.test(key)) {
        try { hand(root, target.filter(Boolean)); } catch (error) { target.splice(0, Infinity, ...before); throw error; }
      }
      return true;
    },
    deleteProperty(target, key) { delete target[key]; hand(root, target.filter(Boolean)); return true; },
  });
  hide(root, ADOPTED, { list, shown });
  return shown;
};

// --- the computed style ---------------------------------------------------------------------------------------------------

let computedNames = null;
const listedNames = () => (computedNames ??= native.computed_names());
const readonly = () => { throw new DOMException('A computed style cannot be changed.', 'NoModificationAllowedError'); };
class Computed extends CSSStyleDeclaration {
  getPropertyValue(name) { restyle(this[LIST]); return native.computed(this[LIST][ID], propertyName(name)); }
  getPropertyPriority() { return ''; }
  setProperty() { readonly(); }
  removeProperty() { readonly(); }
  get length() { return this[LIST].isConnected ? listedNames().length : 0; }
  item(index) { return listedNames()[index] ?? ''; }
  get cssText() { return ''; }
  set cssText(_) { readonly(); }
  *[Symbol.iterator]() { if (this[LIST].isConnected) yield* listedNames(); }
}
hide(globalThis, 'getComputedStyle', (element) => {
  idOf(element);
  const style = Object.create(Computed.prototype);
  hide(style, LIST, element);
  return new Proxy(style, {
    get: (target, key, receiver) => (typeof key === 'string' && INDEX.test(key) ? target.item(key) : Reflect.get(target, key, receiver)),
    getPrototypeOf: () => CSSStyleDeclaration.prototype,
  });
});
