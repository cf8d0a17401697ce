// What a component rendered, in a frame of its own: nothing in it runs, nothing is fetched, and its styles reach nothing else.
const frames = (() => {
  const quiet = "default-src 'none'; style-src 'unsafe-inline'; img-src data:; font-src data:";
  const closed = (css) => css.replaceAll('</', '<\\/');
  const text = (styles, body) =>
    `<!doctype html><html><head><meta charset="utf-8"><meta http-equiv="Content-Security-Policy" content="${quiet}">` +
    `<style>:root { color-scheme: light } body { margin: 8px; font: 15px/1.4 system-ui, sans-serif }</style><style>${closed(styles)}</style></head><body>${body}</body></html>`;
  const MOST = 900;
  // Heights are those of what is in them, as far as that goes on a page.
  const fit = (frame) => {
    const root = frame.contentDocument?.documentElement;
    if (!root) return;
    // What is wider than its place is shown smaller, whole.
    if (root.scrollWidth > frame.clientWidth) root.style.zoom = Math.max(0.4, frame.clientWidth / root.scrollWidth);
    const tall = Math.max(Math.ceil(root.getBoundingClientRect().height), 24);
    // Fractions of a pixel are no reason to scroll.
    root.style.overflow = tall <= MOST ? 'hidden' : 'auto';
    frame.style.height = `${Math.min(tall, MOST) + frame.offsetHeight - frame.clientHeight}px`;
  };
  const make = (title, styles, body) => {
    const frame = document.createElement('iframe');
    frame.title = title;
    // No scripts, no forms, no popups; the same origin only so that its height can be measured.
    frame.setAttribute('sandbox', 'allow-same-origin');
    frame.tabIndex = -1;
    frame.addEventListener('load', () => fit(frame));
    frame.srcdoc = text(styles, body);
    return frame;
  };
  // Only what is near the screen has a frame: thousands of them would fill the memory.
  const near = new Map();
  const watcher = new IntersectionObserver((entries) => {
    for (const { target, isIntersecting } of entries) {
      if (isIntersecting && !target.firstChild?.srcdoc) near.get(target)?.(target);
      else if (!isIntersecting && target.firstChild?.srcdoc) {
        target.style.height = `${target.offsetHeight}px`;
        target.replaceChildren();
      }
    }
  }, { rootMargin: '600px' });
  const lazily = (place, draw) => { near.set(place, draw); watcher.observe(place); };
  const forget = () => { watcher.disconnect(); near.clear(); };
  window.addEventListener('beforeprint', () => { for (const [place, draw] of near) if (!place.firstChild?.srcdoc) draw(place); });
  return { make, lazily, forget };
})();
