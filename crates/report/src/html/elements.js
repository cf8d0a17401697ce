// What the pages of reports and of `serve` are made with.
const el = (tag, attributes = {}, ...children) => {
  const node = document.createElement(tag);
  for (const [name, value] of Object.entries(attributes)) {
    if (value === undefined || value === null || value === false) continue;
    if (name.startsWith('on')) node.addEventListener(name.slice(2), value);
    else node.setAttribute(name, value === true ? '' : value);
  }
  node.append(...children.flat().filter((c) => c !== null && c !== undefined && c !== false));
  return node;
};
/** Names stand in backquotes, as in messages on a terminal. */
const coded = (text) => text.split(/`([^`]+)`/).map((piece, i) => (i % 2 ? el('code', {}, piece) : piece));
/** Each verdict's mark, tone and word. */
const MARKS = { holds: ['✓', 'good', 'holds'], broken: ['✗', 'bad', 'broken'], unjudged: ['?', 'open', 'unjudged'] };
