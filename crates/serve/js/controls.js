// Controls made from declared types: each gives its node, sets a value and tells of changes. Values are as contracts have them:
// { kind: 'json', value }, { kind: 'js', value: text }, { kind: 'absent' }.
const json = (value) => ({ kind: 'json', value });
const plain = (value) => (value?.kind === 'json' ? value.value : undefined);

/** What a type starts from. */
const start = (type) => {
  switch (type.is) {
    case 'string': case 'node': return '';
    case 'number': return 0;
    case 'boolean': return false;
    case 'union': return type.of[0];
    case 'array': return [];
    case 'object': return Object.fromEntries(type.fields.filter((f) => f.required).map((f) => [f.name, start(f.type)]));
    case 'either': return start(type.of[0]);
    default: return null;
  }
};
const fits = (type, value) => {
  switch (type.is) {
    case 'string': case 'node': return typeof value === 'string';
    case 'number': return typeof value === 'number';
    case 'boolean': return typeof value === 'boolean';
    case 'union': return type.of.includes(value);
    case 'array': return Array.isArray(value);
    case 'object': return typeof value === 'object' && value !== null && !Array.isArray(value);
    case 'either': return type.of.some((t) => fits(t, value));
    default: return true;
  }
};
const NAMES = { string: 'text', node: 'text', number: 'a number', boolean: 'yes or no', union: 'one of these', array: 'a list', object: 'an object', function: 'a function', date: 'a date', unresolved: 'as JSON' };

/** A control of plain JSON: `value` is what it shows at first, `changed` is told of what it becomes. `label` names it for who cannot see. */
const control = (type, label, value, changed) => {
  switch (type.is) {
    case 'string': case 'node': {
      const input = el('input', { 'aria-label': label, value: typeof value === 'string' ? value : '', oninput: () => changed(input.value) });
      return input;
    }
    case 'number': {
      const input = el('input', { type: 'number', step: 'any', 'aria-label': label, value: typeof value === 'number' ? value : '', oninput: () => { if (input.value !== '' && Number.isFinite(input.valueAsNumber)) changed(input.valueAsNumber); } });
      return input;
    }
    case 'boolean': {
      const input = el('input', { type: 'checkbox', 'aria-label': label, checked: value === true, onchange: () => changed(input.checked) });
      return input;
    }
    case 'union': {
      const select = el('select', { 'aria-label': label, onchange: () => changed(type.of[Number(select.value)]) }, type.of.map((v, i) => el('option', { value: i, selected: v === value }, typeof v === 'string' ? v : JSON.stringify(v))));
      return select;
    }
    case 'array': {
      const list = Array.isArray(value) ? structuredClone(value) : [];
      const place = el('div', { class: 'nest', role: 'group', 'aria-label': label });
      const draw = () => place.replaceChildren(...list.map((one, i) => el('div', { class: 'item' }, control(type.of, `${label} ${i + 1}`, one, (next) => { list[i] = next; changed([...list]); }),
        el('button', { type: 'button', 'aria-label': `Remove ${label} ${i + 1}`, onclick: () => { list.splice(i, 1); draw(); changed([...list]); } }, '−'))),
        el('button', { type: 'button', 'aria-label': `Add to ${label}`, onclick: () => { list.push(structuredClone(list.at(-1) ?? start(type.of))); draw(); changed([...list]); } }, '+ one more'));
      draw();
      return place;
    }
    case 'object': {
      if (!type.fields.length) return raw(label, value, changed);
      const held = typeof value === 'object' && value !== null ? structuredClone(value) : {};
      return el('div', { class: 'nest', role: 'group', 'aria-label': label }, type.fields.map((f) => {
        const inner = el('span', {}, control(f.type, `${label} ${f.name}`, held[f.name], (next) => { held[f.name] = next; if (pick) pick.checked = true; changed({ ...held }); }));
        const pick = f.required ? null : el('input', { type: 'checkbox', 'aria-label': `with ${f.name}`, checked: f.name in held, onchange: () => { if (pick.checked) held[f.name] = held[f.name] ?? start(f.type); else delete held[f.name]; changed({ ...held }); } });
        return el('div', { class: 'field' }, el('span', {}, pick, ' ', f.name), inner);
      }));
    }
    case 'either': {
      const at = Math.max(0, type.of.findIndex((t) => fits(t, value)));
      const place = el('div', {});
      const draw = (i, v) => { const inner = control(type.of[i], label, v, changed); place.replaceChildren(select, inner); };
      const select = el('select', { 'aria-label': `Kind of ${label}`, onchange: () => { const v = start(type.of[Number(select.value)]); draw(Number(select.value), v); changed(v); } }, type.of.map((t, i) => el('option', { value: i, selected: i === at }, NAMES[t.is] ?? t.is)));
      draw(at, value);
      return place;
    }
    default:
      return raw(label, value, changed);
  }
};
/** Where the source does not tell: JSON by hand. */
const raw = (label, value, changed) => {
  const area = el('textarea', { 'aria-label': label, spellcheck: 'false', oninput: () => {
    try { const next = JSON.parse(area.value); area.removeAttribute('aria-invalid'); changed(next); } catch { area.setAttribute('aria-invalid', 'true'); }
  } });
  area.value = value === undefined ? '' : JSON.stringify(value, null, 1);
  return area;
};

/** The control of a whole prop: whether it is passed, and what. */
const propControl = (prop, shownType, value, changed) => {
  const label = prop.name;
  const type = prop.type;
  const body = el('div', {});
  let passed = value && value.kind !== 'absent';
  const tell = (next) => { passed = true; pick.checked = true; changed(next); };
  const inner = () => {
    // What JSON cannot write is passed as an expression.
    if (type.is === 'function' || type.is === 'date' || value?.kind === 'js') {
      const fresh = type.is === 'date' ? 'new Date()' : '() => {}';
      const input = el('input', { 'aria-label': label, class: 'code', value: value?.kind === 'js' ? value.value : fresh, onchange: () => tell({ kind: 'js', value: input.value }) });
      return input;
    }
    return control(type, label, passed ? plain(value) : undefined, (next) => tell(json(next)));
  };
  const pick = el('input', { type: 'checkbox', checked: passed, disabled: prop.required, onchange: () => {
    passed = pick.checked;
    if (!passed) return changed({ kind: 'absent' });
    const fresh = type.is === 'function' ? { kind: 'js', value: '() => {}' } : type.is === 'date' ? { kind: 'js', value: 'new Date()' } : json(start(type));
    value = fresh;
    body.replaceChildren(inner());
    changed(fresh);
  } });
  body.append(inner());
  const set = (next) => { value = next; passed = next && next.kind !== 'absent'; pick.checked = passed; body.replaceChildren(inner()); };
  const node = el('fieldset', { class: 'prop' }, el('div', { class: 'head' }, el('strong', {}, prop.name), el('span', { class: 'type' }, `${shownType}${prop.two_way ? ' ↔' : ''}`),
    el('label', { class: 'passed' }, pick, prop.required ? 'needed' : 'passed')), prop.about && el('p', { class: 'about' }, prop.about), body);
  return { node, set };
};
