// A scene on a stage: what is mounted, what the parent holds, what was heard. The same file runs on every stage; it knows the
// document only by its standard interfaces. `act.js` gives the steps of a person, `content.js` what stands in slots.
import { act } from 'stage:act';
import { content } from 'stage:content';

const host = globalThis.__fidelon;
const { JSON, Map } = host;
// `act.js` has it too by now: from here on nobody else can.
delete globalThis.__fidelon;
/** A list that nobody writes to. */
const NONE = Object.freeze([]);

/** An expression over the state of a scene, and `$event`. */
const compiled = new Map();
const over = (expression, state, event) => {
  const names = Object.keys(state);
  const key = `${names.join()}\n${expression}`;
  if (!compiled.has(key)) compiled.set(key, new Function('state', '$event', ...names, `"use strict"; return (${expression}\n);`));
  return compiled.get(key)(state, event, ...names.map((n) => state[n]));
};
/** `state.query` alone, to which a two-way prop can write back. */
const field = (passed) => /^state\.([A-Za-z_$][\w$]*)$/.exec(passed?.expression ?? '')?.[1];
const sameProps = (a, b) => a && Object.keys(a).length === Object.keys(b).length && Object.keys(b).every((k) => Object.is(a[k], b[k]) && k in a);

/**
 * Opens a session, for the host to play. `parts` are components with their adapter, surface, what the scene passes them and what is around them; a
 * component alone is one part without a name. `setup` is what the project sets frameworks up by. `state` is what a scene starts from, `wires` what events do to it, `values` the values
 * of modules by name.
 */
export const open = ({ parts, state: hasState, wires, values, setup = [], computed = [] }) => {
  let cast, state, events, strays, parentObeys, ran, instances, copies, ended = true, turns = 0;
  const alone = !hasState;
  const failed = (error) => reportError(error);
  const warned = (message) => console.warn(message);

  const placeOf = (name) => {
    const place = document.createElement('div');
    if (name) place.setAttribute('data-part', name);
    return place;
  };
  /**
   * Where a part stands in each case, as long as none leaves anything there: what its framework does once to such an element takes a
   * tenth of a case. None where the stage lets no element outlast a case.
   */
  /** How many listeners of the page frameworks keep themselves, each: where one of its own stands for all of them. */
  const kept = [...new Set(parts.map(({ adapter }) => adapter.listening).filter(Boolean))];
  const places = parts.map(({ name, adapter }) => {
    if (!adapter.prepare || !host.lasts) return null;
    const place = placeOf(name);
    adapter.prepare(place);
    host.lasts(place);
    return { place, bare: place.outerHTML };
  });
  const lasting = (part) => {
    const found = places[part];
    return found && found.place.outerHTML === found.bare && !found.place.shadowRoot ? found.place : null;
  };

  /** What they leave on the page is none of the component's. */
  const setups = setup.filter((given) => given !== undefined)
    .map((given) => (typeof given === 'function' ? (...args) => host.around(() => given(...args)) : given));
  const known = parts.map((part) => ({
    ...part,
    twoWay: part.surface.props.filter((p) => p.two_way).map((p) => p.name),
    declared: part.surface.props.map((p) => p.name),
    scalars: part.surface.props.filter((p) => p.scalar).map((p) => p.name),
    scoped: part.surface.slots.filter((s) => s.exposes).map((s) => s.name),
    hands: Object.fromEntries(part.surface.slots.map((s) => [s.name, s.hands ?? []])),
    /** Slots that have the name of a prop: two things, where content is no prop. */
    shared: part.surface.slots.map((s) => s.name).filter((name) => part.surface.props.some((p) => p.name === name)),
    /** What the scene passes: values, and expressions over its state. */
    fixed: Object.entries(part.props).filter(([, p]) => p.value).map(([name, p]) => [name, p.value]),
    written: Object.entries(part.props).filter(([, p]) => p.expression !== undefined).map(([name, p]) => [name, p.expression]),
    stray: (name, payload) => strays.push({ name, binding: false, part: part.name, payload: payload.map(told) }),
  }));
  const made = (entries) => {
    const out = {};
    for (const [name, value] of entries) out[name] = decode(value, values);
    return out;
  };
  /** A part in this case, with what is known of it behind. */
  const enter = (part, index) => ({
    __proto__: part, lasting: lasting(index), base: made(part.fixed),
    /** What steps and reports changed, over what the scene passes. */
    own: {}, bound: {}, contents: {}, generation: 0, replaced: NONE, last: null, handle: undefined, container: undefined,
    /** Copies beside it, what was there before it was removed, and objects as they were when they were passed: none of them in most cases. */
    others: NONE, gone: undefined, passed: null, touched: new Set(),
  });
  /** What the parent passes now. Nobody writes to it: adapters hand on copies. */
  const propsOf = (live) => {
    const out = { ...live.base };
    for (const [name, expression] of live.written) out[name] = over(expression, state);
    for (const name of Object.keys(live.own)) {
      const value = live.own[name];
      if (value === undefined) delete out[name];
      else out[name] = value;
    }
    return out;
  };
  const pass = (live) => {
    compare(live);
    live.last = propsOf(live);
    remember(live);
    for (const one of [live, ...live.others]) one.handle?.update(live.last);
  };
  const asText = (value) => JSON.stringify(encode(value));
  /** An object is the parent's own: what it held when it was passed shows whether the component wrote to it. */
  const remember = (live) => {
    live.passed = null;
    for (const name of Object.keys(live.last)) {
      const value = live.last[name];
      if (typeof value === 'object' && value !== null) (live.passed ??= new Map()).set(name, [value, asText(value)]);
    }
  };
  const compare = (live) => {
    if (live.passed) for (const [name, [value, text]] of live.passed) if (asText(value) !== text) live.touched.add(name);
  };
  /** The parent renders anew: each part whose props are not what they were. */
  const follow = () => {
    for (const live of cast) if (live.handle && !sameProps(live.last, propsOf(live))) pass(live);
  };
  const slotsOf = (live) => {
    for (const [name, html] of Object.entries(live.fills)) live.contents[name] = html === null ? null : content(html, live.uses, live.tracked, told);
    return { ...live.contents };
  };

  const listeners = (live) => {
    const out = {};
    const generation = live.generation;
    for (const event of live.surface.events) {
      out[event.written] = (...payload) => {
        if (generation !== live.generation && live.replaced.includes(event.written)) strays.push({ name: event.name, binding: event.reports !== null, part: live.name, payload: payload.map(told) });
        events.push({ name: event.name, binding: event.reports !== null, part: live.name, payload: payload.map(told) });
        if (event.reports !== null) report(live, event.reports, reported(live, payload[0], event.reports));
        const name = event.reports ?? event.name;
        for (const wire of wires) if (wire.part === live.name && wire.event === name) relay(wire, payload);
      };
    }
    return out;
  };
  /** What a report carries: the value, or the event whose target holds it; of a prop whose values have no parts also an object that holds it by the prop's name. */
  const reported = (live, payload, prop) => {
    const event = payload?.nativeEvent ?? payload;
    // An element reports by its property; a field within a component by its value.
    if (event instanceof Event) return event.target && prop in event.target ? event.target[prop] : event.target?.value;
    if (!live.scalars.includes(prop)) return payload;
    const holder = [payload, payload?.target].find((it) => typeof it === 'object' && it !== null && Object.hasOwn(it, prop));
    return holder ? holder[prop] : payload;
  };
  const report = (live, prop, value) => {
    turns++;
    live.bound[prop] = value;
    if (!parentObeys) return;
    const written = field(live.props[prop]);
    if (written && !(prop in live.own)) {
      state = { ...state, [written]: value };
      follow();
    } else {
      live.own[prop] = value;
      if (live.handle) pass(live);
    }
  };
  const relay = (wire, payload) => {
    turns++;
    try {
      const event = payload.length > 1 ? payload : payload[0];
      state = { ...state, ...Object.fromEntries(Object.entries(wire.set).map(([name, expression]) => [name, over(expression, state, event)])) };
    } catch (error) {
      failed(new Error(`the wire from ${wire.part}.${wire.event}: ${error?.message ?? error}`));
      return;
    }
    follow();
  };

  /** Instances that outlast cases, with nobody who hears them. */
  const staying = [];
  const unheard = (live) => Object.fromEntries(Object.keys(listeners(live)).map((name) => [name, () => undefined]));

  const put = (live) => {
    const prefix = copies++ ? `copy${copies}-` : '';
    live.container?.remove();
    live.container = live.lasting ?? placeOf(live.name);
    live.lasting = null;
    document.body.appendChild(live.container);
    live.last = propsOf(live);
    remember(live);
    for (const name of live.twoWay) live.bound[name] = live.last[name];
    const turn = turns;
    try {
      live.handle = live.adapter.mount(live.component, live.container, {
        props: live.last, listeners: live.stays ? unheard(live) : listeners(live), slots: slotsOf(live), failed, warned, wantsRef: live.wantsRef, scoped: live.scoped, hands: live.hands, shared: live.shared, declared: live.declared, prefix, module: live.module, setup: setups,
        stray: live.stray, wrap: live.wrap.length ? live.wrap.map(({ component, props }) => ({ component, props: made(Object.entries(props)) })) : NONE,
      });
    } catch (error) {
      failed(error);
    }
    // What was reported while it was mounted could not be passed yet.
    if (turns !== turn && live.handle && !sameProps(live.last, propsOf(live))) pass(live);
  };

  const stage = {
    mount(json, stays) {
      const { combination, plain, parent, network } = JSON.parse(json);
      host.answer(network);
      events = [];
      strays = [];
      instances = new Map();
      copies = 0;
      parentObeys = parent === 'obeys';
      ran = null;
      // A case that was broken off may have left anything.
      if (!ended) places.fill(null);
      ended = false;
      cast = known.map((part, index) => enter(part, stays ? -1 : index));
      if (stays) for (const live of cast) live.stays = true;
      const passed = plain ?? {};
      if (!plain) for (const [name, value] of Object.entries(combination.props)) if (value.kind !== 'absent') passed[name] = decode(value, values);
      state = alone ? {} : passed;
      if (alone) {
        cast[0].own = passed;
        cast[0].fills = { ...cast[0].fills, ...combination.fills };
      }
      cast.forEach(put);
      return '';
    },
    /** Mounts what is never removed: the page is cleared, and the instance stays in memory for all cases that follow. */
    leave(json) {
      stage.mount(json, true);
      staying.push(cast);
      ended = true;
      return '';
    },
    /** Starts a step; `go` takes it one task further until it says that it is done. */
    begin(json) {
      const step = JSON.parse(json);
      ran = step.step === 'in' ? run(step.inner, cast.find((l) => l.name === step.part)) : run(step, alone ? cast[0] : null);
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
    /** Takes all off the page, so that what it subscribed to elsewhere lets go of it. */
    end() {
      cast?.forEach((live, i) => {
        // The case is over: nobody looks any more, but nobody else is to find what it left.
        try { remove(live); } catch { places[i] = null; }
      });
      ended = true;
      return '';
    },
    /** What came since the last time, and what is held now. What there is none of is left out: most looks find little. */
    observe() {
      // Not by way of a prototype, on which a component may have hung anything.
      const left = host.left();
      for (const listening of kept) left[1] += listening();
      const out = { __proto__: null, left, held: { __proto__: null } };
      const requests = host.takeRequests();
      if (events.length) { out.events = events; events = []; }
      if (strays.length) { out.strays = strays; strays = []; }
      if (requests.length) out.requests = requests;
      for (const live of cast) out.held[live.name] = held(live);
      if (computed.length) out.styles = styles();
      if (!alone) out.held[''] = { bound: Object.fromEntries(Object.entries(state).map(([name, value]) => [name, told(value)])) };
      return JSON.stringify(out);
    },
    /** The values of modules as plain data, and what the framework of each part knows of it. */
    opened: () => JSON.stringify({
      values: Object.fromEntries(Object.entries(values).map(([name, value]) => [name, encode(value)])),
      declared: parts.map((part) => { try { return part.adapter.declares?.(part.component) ?? null; } catch { return null; } }),
    }),
  };
  host.stage ??= stage;
  return stage;

  /** The computed values that are asked for, of each element on the page. */
  function styles() {
    const out = Object.fromEntries(computed.map((property) => [property, []]));
    const walk = (node) => {
      for (const child of node.children) {
        const style = getComputedStyle(child);
        for (const property of computed) out[property].push([host.idOf(child), style.getPropertyValue(property)]);
        const root = child.shadowRoot;
        if (root) walk(root);
        walk(child);
      }
    };
    walk(document.body);
    return out;
  }

  function remove(live) {
    const copies = live.others;
    live.others = NONE;
    for (const one of [...copies, live]) {
      const last = one.handle;
      one.handle = undefined;
      one.gone = last ?? one.gone;
      last?.remove();
      if (one !== live) one.container?.remove();
    }
  }

  /** What the parent holds of a part. */
  function held(live) {
    compare(live);
    const out = { __proto__: null };
    if (live.touched.size) out.touched = [...live.touched];
    const overruled = live.handle?.overruled?.() ?? [];
    if (overruled.length) out.overruled = overruled;
    if (!live.handle && live.gone?.reach?.()) out.kept = true;
    for (const name of live.twoWay) (out.bound ??= { __proto__: null })[name] = told(live.bound[name]);
    const it = live.wantsRef ? live.handle?.reach?.() : null;
    // Each is read once: what a framework hands out is often a proxy.
    const refer = (name, value) => {
      if (typeof value !== 'object' || value === null) return;
      const found = value instanceof Element ? value : value.$el;
      if (found instanceof Element) (out.refs ??= { __proto__: null })[name] = host.idOf(found);
    };
    if (it) {
      if (!instances.has(it)) instances.set(it, instances.size);
      out.instance = instances.get(it);
      out.exposed = { __proto__: null };
      refer('', it);
      for (const name of live.surface.exposes) {
        const value = it[name];
        if (value === undefined && !(name in it)) continue;
        out.exposed[name] = told(value);
        refer(name, value);
      }
    }
    for (const name of Object.keys(live.contents)) {
      const given = live.contents[name];
      if (!given) continue;
      if (live.tracked) (out.given ??= { __proto__: null })[name] = given.places().map(([index, node]) => ({ index, node: host.idOf(node) }));
      const handed = given.handed();
      if (handed) (out.handed ??= { __proto__: null })[name] = handed;
    }
    return out;
  }

  /** The elements that `slot(…)` and `ref(…)` stand for, in one part or in all. */
  function started(start, live) {
    const key = start.by === 'slot' ? (l) => (l.contents[start.name] ? l.contents[start.name].places().map(([, node]) => node) : []) : (l) => {
      const it = l.handle?.reach?.();
      const value = start.name === '' ? it : it?.[start.name];
      const element = value instanceof Element ? value : value?.$el;
      return element instanceof Element ? [element] : [];
    };
    return (live ? [live] : cast).flatMap(key);
  }

  function* run(step, live) {
    const mounted = (live ? [live] : cast).some((l) => l.handle);
    if (!mounted && step.step !== 'remove' && step.step !== 'again') throw { fault: 'the component is not mounted' };
    switch (step.step) {
      case 'pass':
      case 'assign':
        for (const [name, value] of Object.entries(step.props)) {
          const target = live ? live.own : state;
          if (value.kind === 'absent') target[name] = undefined;
          else if (!same(live ? propsOf(live)[name] : target[name], value)) {
            if (live) live.own[name] = decode(value, values);
            else state = { ...state, [name]: decode(value, values) };
          }
          if (live?.twoWay.includes(name)) live.bound[name] = live.own[name];
        }
        if (live) pass(live);
        else follow();
        return;
      case 'fill':
        live.fills = { ...live.fills, ...step.fills };
        for (const one of [live, ...live.others]) one.handle?.fill(slotsOf(live));
        return;
      case 'call': {
        const it = live.handle.reach();
        if (!it) throw { fault: `the ref holds nothing, so \`${step.member}\` cannot be called` };
        if (typeof it[step.member] !== 'function') throw { fault: `the exposed \`${step.member}\` is no function but ${describe(it[step.member])}` };
        const given = it[step.member](...step.with.map((v) => decode(v, values)));
        yield;
        if (step.gives && JSON.stringify(encode(given)) !== JSON.stringify(encode(decode(step.gives, values)))) {
          throw { fault: `\`${step.member}\` gave ${JSON.stringify(encode(given).value ?? null)} instead of ${JSON.stringify(step.gives.value ?? null)}` };
        }
        return;
      }
      case 'remove':
        (live ? [live] : cast).forEach(remove);
        return;
      case 'relisten':
        live.generation++;
        for (const one of [live, ...live.others]) live.replaced = one.handle?.listen?.(listeners(live)) ?? NONE;
        return;
      case 'refresh':
        for (const l of live ? [live] : cast) for (const one of [l, ...l.others]) one.handle?.refresh?.();
        return;
      case 'again':
        for (const l of live ? [live] : cast) {
          if (!l.handle) put(l);
          else { const copy = { __proto__: l, others: NONE, passed: null, handle: undefined, container: undefined }; l.others = [...l.others, copy]; put(copy); }
        }
        return;
      default:
        yield* act(step, { within: live?.name ? live.container : null, started: (start) => started(start, live), decode: (v) => decode(v, values) });
    }
  }
};

/** An equal value keeps its identity, as it does in a parent that did not touch it. */
const same = (held, value) => value.kind === 'json' && held !== undefined && JSON.stringify(encode(held).value) === JSON.stringify(value.value);
