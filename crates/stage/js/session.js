// A component on a stage: what is mounted, what the parent holds, what was heard. The same file runs on every stage; it
// knows the document only by its standard interfaces. `act.js` gives the steps of a person.
import { act } from 'stage:act';

/** A value as plain data: JSON where it can be, a description where it cannot. */
export const encode = (value, depth = 0, seen = []) => {
  if (value === undefined) return { kind: 'absent' };
  const json = plain(value, depth, seen);
  return json === OTHER ? { kind: 'other', value: describe(value) } : { kind: 'json', value: json };
};
const OTHER = Symbol('other');
const plain = (v, depth, seen) => {
  if (v === null || typeof v === 'string' || typeof v === 'boolean') return v;
  if (typeof v === 'number') return Number.isFinite(v) ? v : depth ? String(v) : OTHER;
  if (typeof v === 'bigint' || typeof v === 'symbol' || typeof v === 'function') return depth ? describe(v) : OTHER;
  if (v === undefined) return null;
  if (seen.includes(v) || depth > 8) return '(a circle)';
  if (v instanceof Date || v instanceof RegExp || v instanceof Map || v instanceof Set || v instanceof Promise) return depth ? describe(v) : OTHER;
  if (v instanceof Event || v.nativeEvent instanceof Event) return domEvent(v.nativeEvent ?? v);
  if (v instanceof Node) return depth ? describe(v) : OTHER;
  const path = [...seen, v];
  if (Array.isArray(v)) return v.slice(0, 1000).map((x) => plain(x, depth + 1, path));
  const out = {};
  for (const key of Object.keys(v).slice(0, 1000)) if (v[key] !== undefined) out[key] = plain(v[key], depth + 1, path);
  return out;
};
/** A DOM event as payload is its type and its target's value and ticked state. */
const domEvent = (e) => {
  const out = { type: e.type };
  const t = e.target;
  if (t && 'value' in t && typeof t.value === 'string') out.value = t.value;
  if (t && (t.type === 'checkbox' || t.type === 'radio')) out.ticked = t.checked;
  return out;
};
const describe = (v) => {
  if (typeof v === 'function') return 'function';
  if (v instanceof Date) return Number.isNaN(+v) ? 'Date (invalid)' : `Date ${v.toISOString()}`;
  if (v instanceof Element) return `<${v.localName}>`;
  if (v instanceof Map || v instanceof Set) return `${v.constructor.name} of ${v.size}`;
  if (typeof v === 'object' && v !== null) return v.constructor?.name ?? 'object';
  return String(v);
};

const evaluated = (text) => (0, eval)(`(${text})`);
const decode = (value, fresh) => {
  if (value.kind === 'json') return fresh ? structuredClone(value.value) : value.value;
  if (value.kind === 'js') return evaluated(value.value);
  return undefined;
};

/** HTML as a tree that adapters build in their framework; `${…}` in texts and attributes reads what the slot exposes. */
const content = (html, uses) => {
  const template = document.createElement('template');
  template.innerHTML = html;
  const text = (source) => {
    if (!source.includes('${')) return () => source;
    return (scope) => {
      const names = Object.keys(scope ?? {});
      return new Function(...names, `return \`${source.replace(/[`\\]/g, '\\$&')}\`;`)(...names.map((n) => scope[n]));
    };
  };
  const walk = (node) => {
    if (node.nodeType === 3) return { text: text(node.data) };
    if (node.nodeType !== 1) return null;
    const attributes = {};
    for (const name of node.getAttributeNames()) attributes[name] = node.getAttribute(name);
    return { tag: uses[node.localName] ?? node.localName, attributes, children: [...node.childNodes].map(walk).filter(Boolean) };
  };
  return [...template.content.childNodes].map(walk).filter(Boolean);
};

/**
 * Opens a session. `surface` is what the component declares: events with the name they are told by, how they are written
 * and the prop that they report; slots; exposed members.
 */
export const open = (adapter, Component, surface) => {
  let handle, container, props, fills, bound, events, parentObeys, ran;
  const twoWay = surface.props.filter((p) => p.two_way).map((p) => p.name);

  const failed = (error) => reportError(error);
  const warned = (message) => console.warn(message);
  const contents = () => Object.fromEntries(Object.entries(fills).map(([name, html]) => [name, html === null ? null : content(html, {})]));
  const pass = () => handle.update({ ...props });

  const listeners = () => {
    const out = {};
    for (const event of surface.events) {
      out[event.written] = (...payload) => {
        events.push({ name: event.name, binding: event.reports !== null, payload: payload.map((p) => encode(p)) });
        if (event.reports === null) return;
        const value = reported(payload[0], event.reports);
        bound[event.reports] = value;
        if (parentObeys && handle) { props[event.reports] = value; pass(); }
        else if (parentObeys) props[event.reports] = value;
      };
    }
    return out;
  };
  /** What a report carries: the value, or the event whose target holds it. */
  const reported = (payload, prop) => {
    const event = payload?.nativeEvent ?? payload;
    if (!(event instanceof Event)) return payload;
    return prop === 'checked' ? event.target.checked : event.target.value;
  };

  return {
    mount(json) {
      const { combination, parent, network } = JSON.parse(json);
      globalThis.__fidelon.answer(network);
      events = [];
      props = {};
      for (const [name, value] of Object.entries(combination.props)) if (value.kind !== 'absent') props[name] = decode(value, true);
      fills = { ...combination.fills };
      bound = Object.fromEntries(twoWay.map((name) => [name, props[name]]));
      parentObeys = parent === 'obeys';
      handle = undefined;
      ran = null;
      container = document.createElement('div');
      document.body.appendChild(container);
      try {
        handle = adapter.mount(Component, container, {
          props: { ...props }, listeners: listeners(), slots: contents(), failed, warned, wantsRef: surface.exposes.length > 0,
          scoped: surface.slots.filter((s) => s.exposes).map((s) => s.name),
        });
      } catch (error) {
        failed(error);
      }
      return '';
    },
    /** Starts a step; `go` takes it one task further until it says that it is done. */
    begin(json) {
      ran = run(JSON.parse(json));
      return '';
    },
    go() {
      if (!ran) return 'done';
      try {
        if (!ran.next().done) return 'more';
      } catch (error) {
        ran = null;
        if (error?.fault) return 'fault ' + error.fault;
        failed(error);
        return 'done';
      }
      ran = null;
      return 'done';
    },
    /** Takes the component off the page, so that what it subscribed to elsewhere lets go of it. */
    end() {
      const last = handle;
      handle = undefined;
      try { last?.remove(); } catch { /* the case is over: nobody looks any more */ }
      return '';
    },
    /** What came since the last time, and what is held now. */
    observe() {
      const out = { events, bound: {}, exposed: null, requests: globalThis.__fidelon.takeRequests() };
      events = [];
      for (const name of twoWay) out.bound[name] = encode(bound[name]);
      const it = surface.exposes.length ? handle?.reach?.() : null;
      if (it) {
        out.exposed = {};
        for (const name of surface.exposes) if (name in it) out.exposed[name] = encode(it[name]);
      }
      return JSON.stringify(out);
    },
  };

  function* run(step) {
    if (!handle && step.step !== 'remove') throw { fault: 'the component is not mounted' };
    switch (step.step) {
      case 'pass':
      case 'assign':
        for (const [name, value] of Object.entries(step.props)) {
          if (value.kind === 'absent') delete props[name];
          else if (!same(props[name], value)) props[name] = decode(value, true);
          if (twoWay.includes(name)) bound[name] = props[name];
        }
        pass();
        return;
      case 'fill':
        fills = { ...fills, ...step.fills };
        handle.fill(contents());
        return;
      case 'call': {
        const it = handle.reach();
        if (!it) throw { fault: `the ref holds nothing, so \`${step.member}\` cannot be called` };
        if (typeof it[step.member] !== 'function') throw { fault: `the exposed \`${step.member}\` is no function but ${describe(it[step.member])}` };
        const given = it[step.member](...step.with.map((v) => decode(v, true)));
        yield;
        if (step.gives && JSON.stringify(encode(given)) !== JSON.stringify(encode(decode(step.gives)))) {
          throw { fault: `\`${step.member}\` gave ${JSON.stringify(encode(given).value ?? null)} instead of ${JSON.stringify(step.gives.value ?? null)}` };
        }
        return;
      }
      case 'remove':
        handle?.remove();
        handle = undefined;
        return;
      default:
        yield* act(step);
    }
  }
};

/** An equal value keeps its identity, as it does in a parent that did not touch it. */
const same = (held, value) => value.kind === 'json' && JSON.stringify(encode(held).value) === JSON.stringify(value.value);
