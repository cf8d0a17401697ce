// Slot content: HTML as a tree that adapters build in their framework. The parent wrote it, so the parent's components are known
// in it as tags, and it can read what the slot exposes.

/**
 * `{…}` as an attribute's value and tags of components are no HTML: such tags are rewritten to a marker before the page's own
 * parser reads the rest. Gives the HTML and what each marker stands for.
 */
const marked = (html, uses) => {
  const found = [];
  let out = '';
  let at = 0;
  const names = Object.keys(uses).join('|');
  if (!names) return { html, found };
  const tag = new RegExp(`<(/?)(${names})(?![A-Za-z0-9-])`, 'g');
  for (let m; (m = tag.exec(html)); ) {
    out += html.slice(at, m.index);
    let end = tag.lastIndex;
    if (m[1]) {
      end = html.indexOf('>', end) + 1 || html.length;
      out += `</${MARKER}>`;
    } else {
      const props = [];
      let closed = false;
      for (;;) {
        while (/\s/.test(html[end] ?? '')) end++;
        if (end >= html.length) break;
        if (html.startsWith('/>', end)) { closed = true; end += 2; break; }
        if (html[end] === '>') { end++; break; }
        const name = /^[^\s=>/]+/.exec(html.slice(end))?.[0];
        if (!name) { end++; continue; }
        end += name.length;
        if (html[end] !== '=') { props.push([name, { given: true }]); continue; }
        const [text, after] = attribute(html, end + 1);
        end = after;
        props.push([name, text.startsWith('{') && text.endsWith('}') ? { expression: text.slice(1, -1) } : { text: text.replace(/^(["'])([\s\S]*)\1$/, '$2') }]);
      }
      out += `<${MARKER} n="${found.length}">${closed ? `</${MARKER}>` : ''}`;
      found.push({ component: uses[m[2]], props });
    }
    at = tag.lastIndex = end;
  }
  return { html: out + html.slice(at), found };
};
const MARKER = 'fidelon-component';
/** The text of an attribute's value that starts here, quotes or braces included, and where it ends. */
const attribute = (html, from) => {
  const first = html[from];
  if (first === '"' || first === "'") {
    const end = html.indexOf(first, from + 1);
    return end < 0 ? [html.slice(from), html.length] : [html.slice(from, end + 1), end + 1];
  }
  if (first === '{') {
    let depth = 0;
    for (let i = from; i < html.length; i++) {
      if (html[i] === '{') depth++;
      else if (html[i] === '}' && --depth === 0) return [html.slice(from, i + 1), i + 1];
    }
    return [html.slice(from), html.length];
  }
  const text = /^[^\s>]*?(?=\s|\/?>|$)/.exec(html.slice(from))[0];
  return [text, from + text.length];
};

/** A text with `${…}` as a function of what the slot exposes. */
const template = (source) => {
  if (!source.includes('${')) return () => source;
  const whole = /^\$\{([^}]*)\}$/.exec(source);
  const code = whole ? `return (${whole[1]});` : `return \`${source.replace(/[`\\]/g, '\\$&')}\`;`;
  let made, over;
  return (scope) => {
    const names = Object.keys(scope ?? {});
    if (over !== names.join()) { made = new Function(...names, code); over = names.join(); }
    return made(...names.map((n) => scope[n]));
  };
};
const valueOf = ({ given, expression, text }) => (given ? () => true : template(expression === undefined ? text : `\${${expression}}`));
const all = (entries) => (scope) => Object.fromEntries(entries.map(([name, value]) => [name, value(scope)]));

/** What was read of contents, by the components that are known in them: cases fill slots with the same again and again. */
const readBefore = new WeakMap();
const read = (source, uses) => {
  if (!readBefore.has(uses)) readBefore.set(uses, new Map());
  const known = readBefore.get(uses);
  if (!known.has(source)) known.set(source, readAnew(source, uses));
  return known.get(source);
};
const readAnew = (source, uses) => {
  const { html, found } = marked(source, uses);
  const holder = document.createElement('template');
  holder.innerHTML = html;
  const walk = (node) => {
    if (node.nodeType === 3) {
      const text = template(node.data);
      return { text: (scope) => String(text(scope) ?? '') };
    }
    if (node.nodeType !== 1) return null;
    const children = [...node.childNodes].map(walk).filter(Boolean);
    if (node.localName === MARKER) {
      const { component, props } = found[Number(node.getAttribute('n'))];
      return { component, attributes: all(props.map(([name, value]) => [name, valueOf(value)])), children };
    }
    const attributes = node.getAttributeNames().map((name) => [name, template(node.getAttribute(name))]);
    return { tag: node.localName, attributes: all(attributes), children };
  };
  return {
    nodes: [...holder.content.childNodes].map(walk).filter(Boolean),
    blank: [...holder.content.childNodes].filter((n) => n.nodeType === 1 || n.nodeType === 3).map((n) => n.nodeType === 3 && n.data.trim() === ''),
    /** The words in what it reads of its slot: names among them. */
    names: [...new Set([...source.matchAll(/\$\{([^}]*)\}|=\{([^}]*)\}/g)].flatMap(([, a, b]) => (a ?? b).match(/(?<![\w$.'"])[A-Za-z_$][\w$]*/g) ?? []))],
  };
};

/**
 * The content of a slot: its nodes for the adapter, `receive` for what the slot hands over, `places()` for where each stands now.
 * A node is `{ text(scope) }`, `{ tag, attributes(scope), children, seen }` or `{ component, attributes(scope), children, seen }`;
 * `seen` takes the element or instance once it is there, and is only there where places are asked for.
 */
export const content = (source, uses, tracked, encode) => {
  const { nodes, blank, names } = read(source, uses);
  const tops = [];
  const followed = (node, i) => {
    if (blank[i]) return node;
    const top = { elements: new Set(), said: new Set() };
    tops.push(top);
    if (node.text) return { ...node, text: (scope) => { const said = node.text(scope); top.said.add(said.trim()); return said; } };
    return { ...node, seen: (it) => { const element = it instanceof Element ? it : it?.$el; if (element instanceof Element) top.elements.add(element); } };
  };
  let handed;
  return {
    nodes: tracked ? nodes.map(followed) : nodes,
    names,
    receive(scope) { handed = encode(scope); },
    handed: () => handed,
    /** `[index, element]` of each of the contents that stands on the page. */
    places() {
      return tops.flatMap(({ elements, said }, index) => {
        const out = [...elements].filter((e) => e.isConnected);
        if (said.size) {
          const walker = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT);
          for (let t = walker.nextNode(); t; t = walker.nextNode()) if (said.has(t.data.trim())) out.push(t.parentNode);
        }
        return out.map((element) => [index, element]);
      });
    },
  };
};
