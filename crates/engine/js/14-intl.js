// ECMA-402 over CLDR: https://tc39.es/ecma402/. Where nothing is said the zone is UTC and the language en-US, as everywhere on a stage.

const LOCALE = 'en-US';
const cldr = (what, locale, request) => JSON.parse(native.intl(JSON.stringify({ what, locale, ...request })));
const UNKNOWN = /^[a-z]{5,8}(-[a-z\d]{2,8})*$/i;
const tagOf = (tag) => {
  if (typeof tag !== 'string' && typeof tag !== 'object') throw new TypeError(`Incorrect locale information provided: ${String(tag)}`);
  // Well-formed languages of five letters and more (UTS 35 §3.2) that nobody has data of; many write `default`.
  if (UNKNOWN.test(String(tag))) return String(tag).toLowerCase();
  const found = cldr('tag', String(tag));
  if (found === null) throw new RangeError(`Incorrect locale information provided: ${tag}`);
  return found;
};
const tagsOf = (locales) => (locales === undefined ? [] : [...new Set((typeof locales === 'string' || locales instanceof Locale ? [locales] : [...locales]).map(tagOf))]);
const resolved = (locales) => tagsOf(locales).find((tag) => !UNKNOWN.test(tag)) ?? LOCALE;
const option = (options, name, allowed, otherwise) => {
  const value = options?.[name];
  if (value === undefined) return otherwise;
  if (typeof otherwise === 'boolean') return Boolean(value);
  const text = String(value);
  if (allowed && !allowed.includes(text)) throw new RangeError(`Value ${text} out of range for Intl options property ${name}`);
  return text;
};
const digits = (options, name, least, most, otherwise) => {
  const value = options?.[name];
  if (value === undefined) return otherwise;
  const number = Number(value);
  if (!(number >= least && number <= most)) throw new RangeError(`${name} value is out of range.`);
  return Math.floor(number);
};
/** Classes that work without `new`, as these may. */
const callable = (Class) => {
  const made = function (...args) { return Reflect.construct(Class, args, new.target ?? Class); };
  made.prototype = Class.prototype;
  Object.defineProperty(made, 'name', { value: Class.name });
  Object.defineProperty(made, 'length', { value: 0 });
  for (const key of Object.getOwnPropertyNames(Class)) if (!['prototype', 'name', 'length'].includes(key)) Object.defineProperty(made, key, Object.getOwnPropertyDescriptor(Class, key));
  hide(Class.prototype, 'constructor', made);
  Object.defineProperty(Class.prototype, Symbol.toStringTag, { value: `Intl.${Class.name}`, configurable: true });
  return made;
};
const supported = (locales) => tagsOf(locales);
/** Takes out of a time what was not asked for of it; what is left alone is written without a nought before it. */
const minutesAlone = (parts, asked) => {
  const of = ['hour', 'minute', 'second', 'fractionalSecond', 'dayPeriod'];
  const first = parts.findIndex((p) => p.type === 'hour');
  if (first < 0) return;
  const last = parts.findLastIndex((p) => of.includes(p.type));
  const wanted = parts.slice(first, last + 1).filter((p) => asked.includes(p.type));
  if (wanted.length === 1 && wanted[0].type !== 'fractionalSecond') wanted[0].value = String(Number(wanted[0].value));
  const between = (p) => ({ type: 'literal', value: p.type === 'fractionalSecond' ? '.' : ':' });
  parts.splice(first, last + 1 - first, ...wanted.flatMap((p, i) => (i ? [between(p), p] : [p])));
};
/** Before and after the beginning of the years that are counted. */
const ERAS = { narrow: ['B', 'A'], short: ['BC', 'AD'], long: ['Before Christ', 'Anno Domini'] };
/** A day of the week or a month in its shortest form: the first letter; in Chinese the sign that tells one day from another comes last (CLDR). */
const narrow = ({ type, value }) => {
  if (/\d/.test(value)) return value;
  const letters = [...value];
  return type === 'weekday' && letters.length > 1 && letters.every((l) => /\p{Script=Han}/u.test(l)) ? letters.at(-1) : letters[0].toUpperCase();
};
const joined = (parts) => parts.map((p) => p.value).join('');

class Locale {
  #tag; #options;
  constructor(tag, options = {}) {
    this.#tag = tagOf(tag);
    this.#options = options;
    if (options.language || options.region || options.script) {
      const base = this.baseName.split('-');
      const parts = [options.language ?? base[0], options.script ?? base.find((p, i) => i && p.length === 4), options.region ?? base.find((p, i) => i && /^([A-Z]{2}|\d{3})$/.test(p))];
      this.#tag = tagOf(parts.filter(Boolean).join('-'));
    }
  }
  get baseName() { return this.#tag.split(/-[ut]-/)[0]; }
  get language() { return this.baseName.split('-')[0]; }
  get script() { return this.baseName.split('-').find((p, i) => i && p.length === 4); }
  get region() { return this.baseName.split('-').find((p, i) => i && /^([A-Z]{2}|\d{3})$/.test(p)); }
  #keyword(key) { return new RegExp(`-u(?:-\\w+)*?-${key}-(\\w{3,})`).exec(this.#tag)?.[1]; }
  get calendar() { return this.#options.calendar ?? this.#keyword('ca'); }
  get numberingSystem() { return this.#options.numberingSystem ?? this.#keyword('nu'); }
  get hourCycle() { return this.#options.hourCycle ?? this.#keyword('hc'); }
  get numeric() { return this.#options.numeric ?? this.#keyword('kn') === 'true'; }
  getTextInfo() { return { direction: ['ar', 'fa', 'he', 'ur', 'ps', 'sd', 'ug', 'yi', 'dv'].includes(this.language) ? 'rtl' : 'ltr' }; }
  get textInfo() { return this.getTextInfo(); }
  maximize() { return this; }
  minimize() { return this; }
  toString() { return this.#tag; }
}

/** How many decimals a currency has (ISO 4217), where that is not two. */
const MINOR = { JPY: 0, KRW: 0, CLP: 0, VND: 0, ISK: 0, HUF: 2, BHD: 3, KWD: 3, TND: 3, OMR: 3, JOD: 3 };
class NumberFormat {
  #locale; #options; #bound;
  constructor(locales, options = {}) {
    const style = option(options, 'style', ['decimal', 'percent', 'currency', 'unit'], 'decimal');
    const currency = options.currency === undefined ? undefined : String(options.currency).toUpperCase();
    if (style === 'currency' && currency === undefined) throw new TypeError('Currency code is required with currency style.');
    if (currency !== undefined && !/^[A-Z]{3}$/.test(currency)) throw new RangeError(`Invalid currency code : ${options.currency}`);
    if (style === 'unit' && options.unit === undefined) throw new TypeError('Unit is required with unit style.');
    const notation = option(options, 'notation', ['standard', 'scientific', 'engineering', 'compact'], 'standard');
    const minor = style === 'currency' ? MINOR[currency] ?? 2 : null;
    const least = digits(options, 'minimumFractionDigits', 0, 100, undefined);
    const most = digits(options, 'maximumFractionDigits', 0, 100, undefined);
    if (least !== undefined && most !== undefined && least > most) throw new RangeError('maximumFractionDigits value is out of range.');
    const [defaultLeast, defaultMost] = minor !== null ? [minor, minor] : style === 'percent' ? [0, 0] : [0, notation === 'compact' ? 0 : 3];
    const grouping = options.useGrouping;
    this.#locale = resolved(locales);
    this.#options = {
      style, currency: style === 'currency' ? currency : undefined,
      currencyDisplay: style === 'currency' ? option(options, 'currencyDisplay', ['symbol', 'narrowSymbol', 'code', 'name'], 'symbol') : undefined,
      unit: style === 'unit' ? String(options.unit) : undefined, unitDisplay: style === 'unit' ? option(options, 'unitDisplay', ['short', 'narrow', 'long'], 'short') : undefined,
      notation, compactDisplay: notation === 'compact' ? option(options, 'compactDisplay', ['short', 'long'], 'short') : undefined,
      minimumIntegerDigits: digits(options, 'minimumIntegerDigits', 1, 21, 1),
      minimumFractionDigits: least ?? Math.min(defaultLeast, most ?? defaultLeast), maximumFractionDigits: most ?? Math.max(defaultMost, least ?? 0),
      minimumSignificantDigits: digits(options, 'minimumSignificantDigits', 1, 21, undefined), maximumSignificantDigits: digits(options, 'maximumSignificantDigits', 1, 21, options.minimumSignificantDigits === undefined ? undefined : 21),
      useGrouping: grouping === false || grouping === 'false' ? 'never' : grouping === true || grouping === 'always' ? 'always' : grouping === 'min2' || (grouping === undefined && notation === 'compact') ? 'min2' : 'auto',
      digitsAsked: [least, most, options.minimumSignificantDigits, options.maximumSignificantDigits].some((d) => d !== undefined),
      signDisplay: option(options, 'signDisplay', ['auto', 'never', 'always', 'exceptZero', 'negative'], 'auto'),
      roundingMode: option(options, 'roundingMode', ['ceil', 'floor', 'expand', 'trunc', 'halfCeil', 'halfFloor', 'halfExpand', 'halfTrunc', 'halfEven'], 'halfExpand'),
    };
  }
  formatToParts(value) {
    const number = typeof value === 'bigint' ? value : Number(value);
    const told = typeof number === 'bigint' || !Number.isFinite(number) ? String(number) : number;
    const parts = cldr('number', this.#locale, { ...this.#options, value: Object.is(told, -0) ? 0 : told });
    if (parts === null) throw new RangeError(`This stage cannot format that: ${JSON.stringify(this.#options)} in ${this.#locale}`);
    return parts;
  }
  get format() { return (this.#bound ??= (value) => joined(this.formatToParts(value))); }
  formatRange(a, b) { const [x, y] = [this.format(a), this.format(b)]; return x === y ? `~${x}` : `${x}–${y}`; }
  formatRangeToParts(a, b) { return [{ type: 'literal', value: this.formatRange(a, b), source: 'shared' }]; }
  resolvedOptions() {
    const { useGrouping, digitsAsked, ...rest } = this.#options;
    const out = { locale: this.#locale, numberingSystem: 'latn', ...rest, useGrouping: useGrouping === 'never' ? false : useGrouping, roundingIncrement: 1, roundingPriority: 'auto', trailingZeroDisplay: 'auto' };
    for (const key of Object.keys(out)) if (out[key] === undefined) delete out[key];
    return out;
  }
  static supportedLocalesOf(locales) { return supported(locales); }
}

const DATE_FIELDS = ['weekday', 'era', 'year', 'month', 'day'];
const TIME_FIELDS = ['dayPeriod', 'hour', 'minute', 'second', 'fractionalSecondDigits'];
class DateTimeFormat {
  #locale; #options; #bound;
  constructor(locales, options = {}, fallback = 'date') {
    this.#locale = resolved(locales);
    const zone = options?.timeZone === undefined ? 'UTC' : String(options.timeZone);
    if (cldr('offset', this.#locale, { timeZone: zone, value: 0 }) === null) throw new RangeError(`Invalid time zone specified: ${zone}`);
    const out = { timeZone: zone };
    for (const name of [...DATE_FIELDS, ...TIME_FIELDS, 'dateStyle', 'timeStyle', 'timeZoneName', 'calendar', 'hourCycle']) if (options?.[name] !== undefined) out[name] = typeof options[name] === 'number' ? options[name] : String(options[name]);
    for (const name of ['dateStyle', 'timeStyle']) option(options, name, ['full', 'long', 'medium', 'short'], undefined);
    if ((out.dateStyle || out.timeStyle) && [...DATE_FIELDS, ...TIME_FIELDS].some((f) => out[f])) throw new TypeError("Can't set option when dateStyle or timeStyle is used");
    const asks = (fields) => fields.some((f) => out[f] !== undefined);
    if (!out.dateStyle && !out.timeStyle && !asks(DATE_FIELDS.filter((f) => f !== 'era')) && !asks(TIME_FIELDS)) {
      if (fallback !== 'time') Object.assign(out, { year: 'numeric', month: 'numeric', day: 'numeric' });
      if (fallback !== 'date') Object.assign(out, { hour: 'numeric', minute: 'numeric', second: 'numeric' });
    }
    if (options?.hour12 !== undefined) out.hourCycle = options.hour12 ? 'h12' : 'h23';
    this.#options = out;
  }
  formatToParts(date) {
    const value = date === undefined ? Date.now() : Number(date);
    if (!Number.isFinite(value) || Math.abs(value) > 8.64e15) throw new RangeError('Invalid time value');
    const { era, ...fields } = this.#options;
    const parts = cldr('date', this.#locale, { ...fields, value }) ?? this.#apart(value);
    if (parts === null) throw new RangeError(`These fields make no format of ${this.#locale}: ${JSON.stringify(this.#options)}`);
    if (['full', 'long'].includes(this.#options.timeStyle) || this.#options.timeZoneName) parts.push({ type: 'literal', value: ' ' }, { type: 'timeZoneName', value: this.#zone(value) });
    // Beside a year the era stands behind it (CLDR, of most locales).
    if (era) parts.splice(parts.findIndex((p) => p.type === 'year') + 1 || parts.length, 0, { type: 'literal', value: ' ' }, { type: 'era', value: ERAS[era][new Date(value).getUTCFullYear() > 0 ? 1 : 0] });
    // Fractions of a second are a part of their own (ECMA-402 §11.5.5).
    const at = parts.findIndex((p) => p.type === 'second' && p.value.includes('.'));
    if (at >= 0) { const [second, fraction] = parts[at].value.split('.'); parts.splice(at, 1, { type: 'second', value: second }, { type: 'literal', value: '.' }, { type: 'fractionalSecond', value: fraction }); }
    // Minutes and seconds without an hour: the data has them behind one only.
    if (!fields.hour && !fields.timeStyle) minutesAlone(parts, ['minute', 'second'].filter((f) => fields[f]).concat(fields.fractionalSecondDigits ? ['fractionalSecond'] : []));
    // A month in digits has a day of the week in short beside it in the data.
    if (fields.weekday === 'long' && ['numeric', '2-digit'].includes(fields.month)) for (const part of parts) if (part.type === 'weekday') part.value = joined(cldr('date', this.#locale, { weekday: 'long', timeZone: fields.timeZone, value }) ?? [part]);
    for (const part of parts) if (this.#options[part.type] === 'narrow' && ['weekday', 'month'].includes(part.type)) part.value = narrow(part);
    return parts;
  }
  /** Fields for which a locale has no pattern together: those of the date, and each of the time appended by its name (UTS 35 §4.2.6). */
  #apart(value) {
    const of = (fields) => Object.fromEntries(Object.entries(this.#options).filter(([name]) => fields.includes(name) || name === 'timeZone'));
    const out = cldr('date', this.#locale, { ...of(DATE_FIELDS), value });
    for (const name of TIME_FIELDS.filter((f) => this.#options[f] !== undefined)) {
      const alone = cldr('date', this.#locale, { ...of(['hour', 'minute', 'second']), hour: 'numeric', hourCycle: 'h23', minute: 'numeric', second: 'numeric', value });
      const part = alone?.find((p) => p.type === name);
      if (!out || !part) return null;
      out.push({ type: 'literal', value: ` (${name}: ` }, { ...part, value: String(Number(part.value)) }, { type: 'literal', value: ')' });
    }
    return out;
  }
  /** The zone by its offset; its own names are not in the data. */
  #zone(value) {
    const seconds = cldr('offset', this.#locale, { timeZone: this.#options.timeZone, value });
    if (seconds === 0 && /^(etc\/)?(utc|uct|zulu|universal)$/i.test(this.#options.timeZone)) return this.#options.timeStyle === 'full' || this.#options.timeZoneName === 'long' ? 'Coordinated Universal Time' : 'UTC';
    const [hours, minutes] = [Math.trunc(Math.abs(seconds) / 3600), Math.abs(seconds) / 60 % 60];
    return `GMT${seconds === 0 ? '' : `${seconds < 0 ? '-' : '+'}${hours}${minutes ? `:${String(minutes).padStart(2, '0')}` : ''}`}`;
  }
  get format() { return (this.#bound ??= (date) => joined(this.formatToParts(date))); }
  formatRange(a, b) { const [x, y] = [this.format(a), this.format(b)]; return x === y ? x : `${x} – ${y}`; }
  formatRangeToParts(a, b) { return [{ type: 'literal', value: this.formatRange(a, b), source: 'shared' }]; }
  resolvedOptions() {
    const out = { locale: this.#locale, calendar: 'gregory', numberingSystem: 'latn', ...this.#options };
    if (out.hour !== undefined || out.timeStyle !== undefined) {
      out.hourCycle ??= this.formatToParts(0).some((p) => p.type === 'dayPeriod') ? 'h12' : 'h23';
      out.hour12 = out.hourCycle === 'h12' || out.hourCycle === 'h11';
    } else delete out.hourCycle;
    return out;
  }
  static supportedLocalesOf(locales) { return supported(locales); }
}

class PluralRules {
  #locale; #options;
  constructor(locales, options = {}) {
    this.#locale = resolved(locales);
    this.#options = { type: option(options, 'type', ['cardinal', 'ordinal'], 'cardinal'), minimumFractionDigits: digits(options, 'minimumFractionDigits', 0, 100, 0), maximumFractionDigits: digits(options, 'maximumFractionDigits', 0, 100, 3) };
  }
  select(value) { const n = Number(value); return Number.isFinite(n) ? cldr('plural', this.#locale, { ...this.#options, value: n }) : 'other'; }
  selectRange(a, b) { return this.select(b); }
  resolvedOptions() { return { locale: this.#locale, ...this.#options, minimumIntegerDigits: 1, pluralCategories: cldr('plurals', this.#locale, this.#options) }; }
  static supportedLocalesOf(locales) { return supported(locales); }
}
class Collator {
  #locale; #options; #bound;
  constructor(locales, options = {}) {
    this.#locale = resolved(locales);
    this.#options = { usage: option(options, 'usage', ['sort', 'search'], 'sort'), sensitivity: option(options, 'sensitivity', ['base', 'accent', 'case', 'variant'], 'variant'),
      ignorePunctuation: option(options, 'ignorePunctuation', null, false), numeric: option(options, 'numeric', null, /-u-.*\bkn(-true)?\b/.test(this.#locale)), caseFirst: option(options, 'caseFirst', ['upper', 'lower', 'false'], 'false') };
  }
  get compare() { return (this.#bound ??= (a, b) => cldr('compare', this.#locale, { ...this.#options, a: String(a), b: String(b) })); }
  resolvedOptions() { return { locale: this.#locale, ...this.#options, collation: 'default' }; }
  static supportedLocalesOf(locales) { return supported(locales); }
}
class ListFormat {
  #locale; #options;
  constructor(locales, options = {}) {
    this.#locale = resolved(locales);
    this.#options = { type: option(options, 'type', ['conjunction', 'disjunction', 'unit'], 'conjunction'), style: option(options, 'style', ['long', 'short', 'narrow'], 'long') };
  }
  formatToParts(items) {
    const all = [...items];
    for (const item of all) if (typeof item !== 'string') throw new TypeError('Iterable yielded a non-String value');
    return all.length ? cldr('list', this.#locale, { ...this.#options, items: all }) : [];
  }
  format(items) { return joined(this.formatToParts(items)); }
  resolvedOptions() { return { locale: this.#locale, ...this.#options }; }
  static supportedLocalesOf(locales) { return supported(locales); }
}
class RelativeTimeFormat {
  #locale; #options;
  constructor(locales, options = {}) {
    this.#locale = resolved(locales);
    this.#options = { style: option(options, 'style', ['long', 'short', 'narrow'], 'long'), numeric: option(options, 'numeric', ['always', 'auto'], 'always') };
  }
  format(value, unit) {
    const text = cldr('relative', this.#locale, { ...this.#options, value: Number(value), unit: String(unit) });
    if (text === null) throw new RangeError(`Invalid unit argument for format() '${unit}'`);
    return text;
  }
  formatToParts(value, unit) {
    const text = this.format(value, unit);
    const number = new NumberFormat(this.#locale).format(Math.abs(Number(value)));
    const at = text.indexOf(number);
    if (at < 0) return [{ type: 'literal', value: text }];
    return [{ type: 'literal', value: text.slice(0, at) }, { type: 'integer', value: number, unit: String(unit).replace(/s$/, '') }, { type: 'literal', value: text.slice(at + number.length) }].filter((p) => p.value);
  }
  resolvedOptions() { return { locale: this.#locale, ...this.#options, numberingSystem: 'latn' }; }
  static supportedLocalesOf(locales) { return supported(locales); }
}
class Segmenter {
  #locale; #granularity;
  constructor(locales, options = {}) {
    this.#locale = resolved(locales);
    this.#granularity = option(options, 'granularity', ['grapheme', 'word', 'sentence'], 'grapheme');
  }
  segment(input) {
    input = String(input);
    const isWord = this.#granularity === 'word';
    const all = [];
    let from = 0;
    for (const [to, wordLike] of cldr('segments', this.#locale, { granularity: this.#granularity, text: input })) {
      if (to > from) all.push({ segment: input.slice(from, to), index: from, input, ...(isWord && { isWordLike: wordLike }) });
      from = to;
    }
    return { [Symbol.iterator]: () => all[Symbol.iterator](), containing: (at = 0) => all.find((s) => s.index <= at && at < s.index + s.segment.length) };
  }
  resolvedOptions() { return { locale: this.#locale, granularity: this.#granularity }; }
  static supportedLocalesOf(locales) { return supported(locales); }
}

const VALUES = { calendar: ['gregory', 'iso8601'], collation: ['default'], currency: ['CHF', 'EUR', 'GBP', 'JPY', 'USD'], numberingSystem: ['latn'], timeZone: ['UTC'], unit: ['acre', 'bit', 'byte', 'celsius', 'centimeter', 'day', 'degree', 'fahrenheit', 'fluid-ounce', 'foot', 'gallon', 'gigabit', 'gigabyte', 'gram', 'hectare', 'hour', 'inch', 'kilobit', 'kilobyte', 'kilogram', 'kilometer', 'liter', 'megabit', 'megabyte', 'meter', 'microsecond', 'mile', 'mile-scandinavian', 'milliliter', 'millimeter', 'millisecond', 'minute', 'month', 'nanosecond', 'ounce', 'percent', 'petabyte', 'pound', 'second', 'stone', 'terabit', 'terabyte', 'week', 'yard', 'year'] };
const Intl = {
  Locale, NumberFormat: callable(NumberFormat), DateTimeFormat: callable(DateTimeFormat), Collator: callable(Collator), PluralRules, ListFormat, RelativeTimeFormat, Segmenter,
  getCanonicalLocales: tagsOf,
  supportedValuesOf(key) { if (!VALUES[key]) throw new RangeError(`Invalid key : ${key}`); return [...VALUES[key]]; },
};
for (const key of Object.keys(Intl)) hide(Intl, key, Intl[key]);
for (const Class of [Locale, PluralRules, ListFormat, RelativeTimeFormat, Segmenter]) Object.defineProperty(Class.prototype, Symbol.toStringTag, { value: `Intl.${Class.name}`, configurable: true });
Object.defineProperty(Intl, Symbol.toStringTag, { value: 'Intl', configurable: true });
hide(globalThis, 'Intl', Intl);

hide(Number.prototype, 'toLocaleString', function (locales, options) { return new NumberFormat(locales, options).format(this); });
hide(BigInt.prototype, 'toLocaleString', function (locales, options) { return new NumberFormat(locales, options).format(this); });
for (const [name, fallback] of [['toLocaleString', 'both'], ['toLocaleDateString', 'date'], ['toLocaleTimeString', 'time']]) {
  hide(RealDate.prototype, name, function (locales, options) {
    if (Number.isNaN(this.getTime())) return 'Invalid Date';
    // The one asks for the date alone, the other for the time alone, whatever fields are given beside.
    let asked = options;
    const has = (fields) => fields.some((f) => options?.[f] !== undefined);
    if (fallback === 'date' && options && !has(DATE_FIELDS) && !options.dateStyle) asked = { ...options, year: 'numeric', month: 'numeric', day: 'numeric' };
    if (fallback === 'time' && options && !has(TIME_FIELDS) && !options.timeStyle) asked = { ...options, hour: 'numeric', minute: 'numeric', second: 'numeric' };
    return new DateTimeFormat(locales, asked, fallback).format(this);
  });
}
hide(String.prototype, 'localeCompare', function (other, locales, options) { return new Collator(locales, options).compare(this, other); });
