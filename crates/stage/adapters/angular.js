// Angular on a stage, in its public API only: its compiler is loaded, since classes come as they were written. Same contract as the
// other adapters: see vue.js. `start` makes the application that the components of a scene stand in.
import { leftOut, zoned } from 'stage:workspace';
import '@angular/compiler';
import * as core from '@angular/core';
import { createApplication, platformBrowser } from '@angular/platform-browser';
import { placed } from 'stage:angular-route';

// What TypeScript emits of parameter types is kept here; there is no such standard yet that engines have.
const METADATA = new WeakMap();
const ofClass = (it, name) => METADATA.get(it)?.get(name);
Reflect.metadata ??= (name, value) => (it) => { if (!METADATA.has(it)) METADATA.set(it, new Map()); METADATA.get(it).set(name, value); };
Reflect.getOwnMetadata ??= (name, it) => ofClass(it, name);

/** Before signals there were none to tell apart, and a parent's props are read anew whenever changes are looked for. */
const isSignal = core.isSignal ?? (() => false);
const signal = core.signal ?? ((value) => Object.assign(() => value, { set: (next) => { value = next; } }));

const detection = zoned ? core.provideZoneChangeDetection : core.provideZonelessChangeDetection ?? core.provideExperimentalZonelessChangeDetection;
/** Who is told of errors: the case that is played. */
let told = () => {};
/** What an application hears of on its window it hands on to the same place, from where it came. */
let telling = false;
const handleError = (error) => {
  if (telling) return;
  telling = true;
  try { told(error); } finally { telling = false; }
};
const errors = { provide: core.ErrorHandler, useValue: { handleError } };
let app;
const inZone = (work) => (zoned ? app.injector.get(core.NgZone).run(work) : work());

/** Of all listeners of a kind zone.js hands the page a single one of its own, and keeps the others in lists on what they listen to. */
const KEPT = /^__zone_symbol__.+(?:true|false)$/;
export const listening = () => {
  if (!zoned) return 0;
  const lists = [window, document, document.documentElement, document.head, document.body].flatMap((target) => Object.keys(target).filter((key) => KEPT.test(key)).map((key) => target[key]));
  return lists.reduce((count, list) => count + (Array.isArray(list) && list.length ? list.length - 1 : 0), 0);
};

/** The modules that a module imports, and those that they do; of one with providers the module. */
const importedBy = (module, known = new Set()) => {
  if (!module || known.has(module)) return known;
  known.add(module);
  const listed = [module.ɵinj?.imports ?? []].flat(Infinity).map((it) => (typeof it === 'function' && !it.ɵinj && !it.ɵmod && !it.ɵcmp ? core.resolveForwardRef(it) : it));
  for (const it of listed) importedBy(it?.ngModule ?? it, known);
  return known;
};
/** Whether a module is made for the top of an application: its own providers are there once. */
const isTop = (module) => [...importedBy(module)].some((it) => it.name === 'BrowserModule');

/** An application whose root injector has what a root module provides. */
const ofModule = async (root, providers) => {
  const attempt = async (own, options) => {
    const Top = class { ngDoBootstrap() {} };
    core.NgModule({ imports: [root], providers: [...own, ...providers] })(Top);
    const made = await platformBrowser().bootstrapModule(Top, options);
    return made.injector.get(core.ApplicationRef);
  };
  // How changes are found is said in another place from version to version.
  const ways = zoned ? [[[], {}], [[core.provideZoneChangeDetection?.() ?? []], {}]] : [[[detection?.() ?? []], { ngZone: 'noop' }], [[], { ngZone: 'noop' }]];
  let last;
  for (const [own, options] of ways) {
    try { return await attempt(own, options); } catch (error) { last ??= error; }
  }
  throw last;
};

/** Why the application's own providers are not there; none when they are. */
let without = null;
/**
 * Makes the application: with what the project's own passes to its start (`application` gives its `root` module or its `providers`), and with
 * the lists of providers of the set-up modules. `modules` declare the components of the scene, and `pages` are those that may ask for a route.
 */
export const start = async ({ application, setup, modules, pages }) => {
  const added = [setup.filter((given) => given !== undefined), errors];
  const plain = (providers) => createApplication({ providers: [detection?.() ?? [], providers, added] });
  try {
    const { root, providers } = application ? await application() : {};
    const top = root ?? modules.find(isTop);
    app = top ? await ofModule(top, added) : await plain(providers ?? []);
    if (top) for (const module of importedBy(top)) inRoot.add(module);
  } catch (error) {
    // What it needs may be a server's, or a browser's own: components that ask for none of it are judged all the same.
    without = error;
    app = await plain([]);
  }
  // An application whose routes cannot be read has none.
  routes = await placed(app, pages).catch(() => routes);
};
/** What gives pages their routes, by their classes. */
let routes = new Map();
/** The modules whose providers are in the root injector. */
const inRoot = new Set();

/** Events that only somebody who can reach an element causes. */
const OF_BUTTONS = ['click', 'dblclick', 'keydown', 'keyup', 'keypress', 'mousedown', 'pointerdown', 'touchstart', 'focus', 'blur'];
const OF_FIELDS = ['input', 'change', 'beforeinput'];
/** The events of its element that a directive listens to, by its decorators. */
const heardBy = (Directive, annotation) => {
  const inHost = Object.keys(annotation.host ?? {}).filter((key) => key.startsWith('(')).map((key) => key.slice(1, -1));
  const listeners = Object.values(Directive.__prop__metadata__ ?? {}).flat().map((it) => it.eventName).filter(Boolean);
  return [...inHost, ...listeners].map((event) => event.split('.')[0]);
};
/** Directives that ask for a template: only the injector knows. */
const structural = new WeakSet();
/**
 * A directive as a component is told of: its class holds what its decorators were given, and what its element is its selector says. Where that
 * says no more than an attribute, the element is one that what the directive listens to happens to.
 */
const directiveOf = (Directive) => {
  const annotation = (Object.hasOwn(Directive ?? {}, '__annotations__') ? Directive.__annotations__ : []).find((it) => it.selector);
  const made = annotation && Directive.ɵdir;
  if (!made) return null;
  const heard = heardBy(Directive, annotation);
  const some = (events) => events.some((event) => heard.includes(event));
  const host = structural.has(Directive) ? 'ng-template' : some(OF_FIELDS) ? 'input' : some(OF_BUTTONS) ? 'button' : 'div';
  const property = (given) => (Array.isArray(given) ? given[0] : given);
  return {
    host,
    selector: annotation.selector,
    isStandalone: !!made.standalone,
    ngContentSelectors: [],
    inputs: Object.entries(made.inputs).map(([templateName, given]) => ({ templateName, propName: property(given) })),
    outputs: Object.entries(made.outputs).map(([templateName, given]) => ({ templateName, propName: property(given) })),
  };
};

const mirrorOf = (Component) => {
  const mirror = core.reflectComponentType(Component) ?? directiveOf(Component);
  if (!mirror) throw new Error(`${Component?.name ?? 'it'} is no component of Angular`);
  return mirror;
};

/** What a slot is called that content is projected into: the reader names them the same way. */
const slotName = (select) => {
  const value = select.split(',')[0].trim().replace(/^[^\p{L}\p{N}*]+/u, '').replace(/^.*=/, '').replace(/^["'\]]+/, '');
  const name = /^[\p{L}\p{N}_*-]*/u.exec(value)[0];
  return name === '' || name === '*' ? 'default' : name;
};

/** The first alternative of a selector as a start tag: `button[kilnDial]` → `button`, `[["kilnDial", ""]]`. */
const tagOf = (selector) => {
  const first = selector.split(',')[0].trim().replace(/:not\([^)]*\)/g, '');
  const tag = /^[\w-]+/.exec(first)?.[0];
  const attributes = [...first.matchAll(/\[([\w-]+)(?:=["']?([^\]"']*)["']?)?\]/g)].map(([, name, value]) => [name, value ?? '']);
  const classes = [...first.matchAll(/\.([\w-]+)/g)].map(([, name]) => name);
  return { tag, attributes: classes.length ? [...attributes, ['class', classes.join(' ')]] : attributes };
};
const quoted = (text) => text.replaceAll('&', '&amp;').replaceAll('"', '&quot;').replaceAll('{', '&#123;').replaceAll('}', '&#125;');

const isVoid = (tag) => /^(area|base|br|col|embed|hr|img|input|link|meta|source|track|wbr)$/.test(tag);

/** Tells where an element of the content stands. */
const Seen = core.Directive({ selector: '[stageSeen]', standalone: true, inputs: ['stageSeen'] })(class {
  constructor() { this.element = core.inject(core.ElementRef).nativeElement; }
  set stageSeen(seen) { seen?.(this.element); }
});

/** Slot content as part of a template. `values` are what it reads, each by its number. */
const templateOf = (nodes, values, scope) => nodes.map((node) => {
  const number = values.length;
  if (node.text !== undefined) {
    values.push(node.text);
    return `{{ values[${number}](${scope}) }}`;
  }
  const given = Object.keys(node.attributes({}));
  values.push(node);
  const read = (name) => `values[${number}].attributes(${scope})['${name.replaceAll("'", "\\'")}']`;
  const inner = () => templateOf(node.children, values, scope);
  if (node.component) {
    const { tag = 'div', attributes } = tagOf(mirrorOf(node.component).selector);
    return `<${tag} ${attributes.map(([n, v]) => `${n}="${quoted(v)}"`).join(' ')} ${given.map((n) => `[${n}]="${read(n)}"`).join(' ')}>${inner()}</${tag}>`;
  }
  const seen = node.seen ? `[stageSeen]="values[${number}].seen"` : '';
  const own = given.map((name) => (scope === '{}' ? `${name}="${quoted(String(node.attributes({})[name]))}"` : `[attr.${name}]="${read(name)}"`)).join(' ');
  return `<${node.tag} ${seen} ${own}>${isVoid(node.tag) ? '' : `${inner()}</${node.tag}>`}`;
}).join('');
const componentsIn = (nodes) => nodes.flatMap((n) => [...(n.component ? [n.component] : []), ...(n.children ? componentsIn(n.children) : [])]);

/** Names of what a slot hands over: those that its content reads and those that its source tells. A template sees no others. */
const handedIn = (content, told = []) => [...new Set([...content.names, ...told])].filter((name) => /^[A-Za-z_$][\w$]*$/.test(name));

/** The value that an instance has of an input; a required one has none yet. */
const valueOf = (instance, property) => {
  const value = property === undefined ? undefined : instance[property];
  try { return isSignal(value) ? value() : value; } catch { return undefined; }
};

/**
 * What a parent may come to write back to without having passed it. What a template binds is decided when it is compiled: where a parent
 * listens to the changes of an input it is bound from the start, or the first answer would need another parent, and a new component.
 */
const bound = (Component, mirror, names, events) => mirror.inputs.filter(({ templateName, propName, transform }) => {
  const isAccessor = Object.getOwnPropertyDescriptor(Component.prototype, propName)?.set;
  return events.includes(`${templateName}Change`) && !names.includes(templateName) && !transform && !isAccessor;
});

/** Parents that were compiled, by their template and what stands in it: that takes long, and most cases differ in values alone. */
const compiled = new Map();
const numbers = new Map();
const numberOf = (it) => { if (!numbers.has(it)) numbers.set(it, numbers.size); return numbers.get(it); };
const compile = (template, Component, imports) => {
  const key = [Component, ...imports].map(numberOf).join() + template;
  if (!compiled.has(key)) {
    const Parent = class {
      constructor() { this.props = signal({}); this.begun = {}; }
      receive(index, scope) { this.contents[index].receive(scope); return scope; }
      /** What is passed, or else what the component itself begins with: see `bound`. */
      own(name, property) {
        const passed = this.props();
        if (name in passed) return passed[name];
        if (!(name in this.begun)) this.begun[name] = valueOf(this.it, property);
        return this.begun[name];
      }
    };
    core.ViewChild('it', { read: Component, static: true })(Parent.prototype, 'it');
    core.ViewChild('it', { read: core.ElementRef })(Parent.prototype, 'host');
    core.Component({ selector: 'stage-parent', standalone: true, template, imports })(Parent);
    // A component that its module keeps to itself is seen here all the same, as compiled code sees what it names.
    if (!mirrorOf(Component).isStandalone) core.ɵɵsetComponentScope(Parent, [Component, ...imports], []);
    compiled.set(key, Parent);
  }
  return compiled.get(key);
};

/** What makes a plain element of one that a directive stands on, so that nothing but the directive can be wrong with it. */
const ofHost = (tag) => (tag === 'button' ? [['type', 'button']] : /^(input|select|textarea)$/.test(tag) ? [['aria-label', 'Content']] : []);

/** A parent whose template fills the slots, with what its contents read. What a template can hold is decided when it is compiled. */
const parentOf = (Component, mirror, names, events, slots, { scoped, hands }) => {
  const values = [];
  const contents = [];
  let inside = '';
  let outside = '';
  let passes = '';
  for (const [name, content] of slots) {
    contents.push(content);
    const asTemplate = scoped.includes(name) || mirror.inputs.some((i) => i.templateName === name);
    if (!asTemplate) {
      const plain = templateOf(content.nodes, values, '{}');
      // What is projected by a selector is told by an attribute, or stands for it.
      const select = mirror.ngContentSelectors.find((s) => slotName(s) === name);
      inside += name === 'default' || !select ? plain : `<ng-container ngProjectAs="${quoted(select.split(',')[0].trim())}">${plain}</ng-container>`;
      continue;
    }
    const handed = handedIn(content, hands[name]);
    const scope = `receive(${contents.length - 1}, { ${handed.map((n) => `${n}: ${n}`).join(', ')} })`;
    const template = (reference) => `<ng-template #${reference} ${handed.map((n) => `let-${n}="${n}"`).join(' ')}>${templateOf(content.nodes, values, scope)}</ng-template>`;
    if (mirror.inputs.some((i) => i.templateName === name)) {
      outside += template(`given${contents.length}`);
      passes += ` [${name}]="given${contents.length}"`;
    } else inside += template(name);
  }
  const named = tagOf(mirror.selector);
  const tag = named.tag ?? mirror.host ?? 'div';
  const heard = events.filter((e) => mirror.outputs.some((o) => o.templateName === e));
  const inputs = names.filter((name) => mirror.inputs.some((i) => i.templateName === name));
  const answered = bound(Component, mirror, names, events);
  // What an input of the same name is bound to is not written beside it.
  const isBound = (name) => inputs.includes(name) || answered.some((i) => i.templateName === name);
  const attributes = [...named.attributes.filter(([name]) => !isBound(name)), ...(mirror.host ? ofHost(tag) : [])];
  if (mirror.host) inside = tag === 'ng-template' ? '<p>Content</p>' : 'Content';
  const template = `${outside}<${tag} #it ${attributes.map(([n, v]) => `${n}="${quoted(v)}"`).join(' ')} ${inputs.map((n) => `[${n}]="props()['${n}']"`).join(' ')} ${answered.map((i) => `[${i.templateName}]="own('${i.templateName}', '${i.propName}')"`).join(' ')} ${passes} ${heard.map((e) => `(${e})="hear('${e}', $event)"`).join(' ')}>${isVoid(tag) ? '' : `${inside}</${tag}>`}`;
  const imports = [...(mirror.isStandalone ? [Component] : []), Seen, ...new Set(contents.flatMap((c) => componentsIn(c.nodes)))];
  return { Parent: compile(template, Component, imports), values, contents };
};

/** What a parent reaches, with signals read: a parent calls them, which means the same. */
const reached = new WeakMap();
const reach = (instance) => {
  if (!reached.has(instance)) {
    reached.set(instance, new Proxy(instance, {
      get(it, name) {
        const value = it[name];
        if (isSignal(value)) return value();
        return typeof value === 'function' ? value.bind(it) : value;
      },
    }));
  }
  return reached.get(instance);
};

/** What Angular knows of a component; a control of forms has what its methods stand for. */
export const declares = (Component) => {
  const mirror = mirrorOf(Component);
  const isControl = typeof Component.prototype?.writeValue === 'function';
  const names = new Set([...mirror.inputs.map(({ templateName }) => templateName), ...(isControl ? ['ngModel', 'disabled'] : [])]);
  return {
    props: [...names].map((name) => ({ name })),
    events: [...mirror.outputs.map(({ templateName }) => templateName), ...(isControl ? ['ngModelChange'] : [])],
    slots: mirror.ngContentSelectors.filter((select) => !select.startsWith('ng-')).map(slotName),
    whole: true,
  };
};

/** The surroundings that a module provides for the components that it declares. */
const provided = new Map();
const injectorOf = (module) => {
  if (!module || inRoot.has(module)) return app.injector;
  if (!provided.has(module)) provided.set(module, core.createNgModule(module, app.injector).injector);
  return provided.get(module);
};

const NEVER = Symbol('never');
/**
 * What a form does with a control of its own kind, one that takes and reports its value by methods: the value is `ngModel` here, as where it
 * is bound in a template, and what the control reports is `ngModelChange`. Gives what passes props on; none for any other component.
 */
const inForm = (it, mirror, listeners, host) => {
  if (typeof it?.writeValue !== 'function' || typeof it.registerOnChange !== 'function') return null;
  const takes = (name) => !mirror.inputs.some((i) => i.templateName === name);
  let held = NEVER;
  let off = false;
  const follow = (props) => {
    const { ngModel = null, disabled = false } = takes('ngModel') ? props : {};
    // What it has reported itself it is not told again.
    if (!Object.is(held, ngModel)) {
      held = ngModel;
      it.writeValue(ngModel);
      // A form's own directive marks the control that it writes to.
      globalThis.ng?.getInjector?.(host())?.get(core.ChangeDetectorRef).markForCheck();
    }
    if (takes('disabled') && !!disabled !== off) { off = !!disabled; it.setDisabledState?.(off); }
  };
  it.registerOnChange((value) => { held = value; listeners.ngModelChange?.(value); });
  it.registerOnTouched?.(() => {});
  return follow;
};

export function mount(Component, container, { props, listeners, slots, failed, scoped, hands, wrap, module }) {
  told = failed;
  for (const sheet of leftOut) console.info(`left out: ${sheet}`);
  const environmentInjector = injectorOf(module);
  const mirror = mirrorOf(Component);
  const around = [];
  let outer = container;
  let elementInjector = routes.get(Component);
  for (const { component, props: given } of wrap) {
    const holder = document.createElement('div');
    const ref = core.createComponent(component, { environmentInjector: app.injector, elementInjector, projectableNodes: mirrorOf(component).ngContentSelectors.map((s) => (slotName(s) === 'default' ? [holder] : [])) });
    for (const [name, value] of Object.entries(given)) ref.setInput(name, value);
    outer.append(ref.location.nativeElement);
    app.attachView(ref.hostView);
    around.push(ref);
    outer = holder;
    elementInjector = ref.injector;
  }

  let current = { props, slots };
  const filled = () => Object.entries(current.slots).filter(([, content]) => content);
  const shape = () => `${[...Object.keys(current.props), ...bound(Component, mirror, Object.keys(current.props), Object.keys(listeners)).map((i) => i.templateName)].sort().join()}|${filled().map(([name]) => name).join()}`;
  /** Whether a parent's template shows it: where content is passed, and a directive always. */
  const isWithin = () => !!mirror.host || filled().length > 0;
  /** The view: the component alone, set by its inputs; or within a parent. */
  let view;
  const alone = () => {
    const ref = core.createComponent(Component, { environmentInjector, elementInjector });
    const initial = new Map();
    const read = (name) => {
      const { propName } = mirror.inputs.find((i) => i.templateName === name) ?? {};
      return valueOf(ref.instance, propName);
    };
    let last = {};
    const control = inForm(ref.instance, mirror, listeners, () => ref.location.nativeElement);
    const isInput = (name) => !control || mirror.inputs.some((i) => i.templateName === name);
    const set = (next) => {
      control?.(next);
      for (const [name, value] of Object.entries(next).filter(([name]) => isInput(name))) {
        if (name in last && Object.is(last[name], value)) continue;
        if (!initial.has(name)) initial.set(name, read(name));
        ref.setInput(name, value);
      }
      for (const name of Object.keys(last)) if (!(name in next) && isInput(name)) ref.setInput(name, initial.get(name));
      last = next;
    };
    set(current.props);
    for (const [written, listener] of Object.entries(listeners)) {
      const output = mirror.outputs.find((o) => o.templateName === written);
      if (output) ref.instance[output.propName].subscribe(listener);
    }
    return { ref, host: ref.location.nativeElement, top: ref.location.nativeElement, set, instance: () => ref.instance, shape: '' };
  };
  const within = () => {
    const { Parent, values, contents } = parentOf(Component, mirror, Object.keys(current.props), Object.keys(listeners), filled(), { scoped, hands });
    // Its own element is as plain as the place that it stands in: nobody is to take it for one of the component's.
    const ref = core.createComponent(Parent, { environmentInjector, elementInjector, hostElement: document.createElement('div') });
    ref.location.nativeElement.removeAttribute('ng-version');
    Object.assign(ref.instance, { values, contents });
    ref.instance.hear = (written, payload) => listeners[written](payload);
    ref.instance.props.set(current.props);
    let control;
    const enter = () => { control = inForm(ref.instance.it, mirror, listeners, () => ref.instance.host.nativeElement); control?.(current.props); };
    return { ref, enter, get host() { return ref.instance.host?.nativeElement; }, top: ref.location.nativeElement, set: (next) => { ref.instance.props.set(next); control?.(next); }, instance: () => ref.instance.it, shape: shape(), contents: filled().map(([, c]) => c) };
  };
  const show = () => {
    view = isWithin() ? within() : alone();
    outer.append(view.top);
    app.attachView(view.ref.hostView);
    app.tick();
    if (view.enter) { view.enter(); app.tick(); }
    // Events of the page, which the component does not declare, are heard at its element.
    for (const [written, listener] of Object.entries(listeners)) {
      if (!mirror.outputs.some((o) => o.templateName === written) && written !== 'ngModelChange') view.host?.addEventListener(written, listener);
    }
  };
  const hide = () => { view.ref.destroy(); view.top.remove(); };
  const follow = () => inZone(() => {
    const contents = filled().map(([, c]) => c);
    if (view.shape !== (isWithin() ? shape() : '') || contents.some((c, i) => c !== view.contents[i])) { hide(); show(); return; }
    view.set(current.props);
    // A parent that renders anew looks at its children, also where it passes the same.
    view.ref.changeDetectorRef.markForCheck();
  });
  const begin = () => {
    try { inZone(show); } catch (error) {
      if (!mirror.host || structural.has(Component) || !/\bTemplateRef\b/.test(error?.message)) throw error;
      structural.add(Component);
      mirror.host = 'ng-template';
      inZone(show);
    }
  };
  try { begin(); } catch (error) {
    if (without && error instanceof Error) error.message += `\n(The application's own providers are not there: ${without?.message ?? without})`;
    throw error;
  }
  return {
    update(next) { current = { ...current, props: next }; follow(); },
    fill(next) { current = { ...current, slots: next }; follow(); },
    /** By the framework's own tools for people who look into a page: what waits to be marked is looked at too. */
    refresh() {
      const tools = globalThis.ng;
      for (const element of outer.querySelectorAll('*')) {
        const found = tools?.getComponent?.(element);
        if (found) inZone(() => tools.applyChanges(found));
      }
    },
    reach: () => { const it = view?.instance(); return it ? reach(it) : null; },
    own: (name) => !name.startsWith('ng') && !name.startsWith('__'),
    remove() { const last = view; view = null; last.ref.destroy(); last.top.remove(); around.reverse().forEach((ref) => ref.destroy()); },
  };
}
