// What is replaced later on, kept for the page itself.

const script = document.currentScript;
const base = script.dataset.base;
script.remove();

// Where the driver cannot have it run first in every window: the one that counts.
for (const name of ['RTCPeerConnection', 'webkitRTCPeerConnection', 'WebTransport']) delete window[name];

const native = {
  fetch: window.fetch.bind(window), XMLHttpRequest: window.XMLHttpRequest, MessageChannel: window.MessageChannel,
  requestAnimationFrame: window.requestAnimationFrame.bind(window), setTimeout: window.setTimeout.bind(window),
  postTask: window.scheduler?.postTask?.bind(window.scheduler), addEventListener: EventTarget.prototype.addEventListener,
  removeEventListener: EventTarget.prototype.removeEventListener,
};
/** Where this browser cannot be such a page it says so. */
const lost = (error) => native.fetch(`${base}/turn/${script.dataset.page}`, { method: 'POST', body: JSON.stringify([{ failed: { message: `the page cannot be set up in this browser: ${error}`, stack: String(error?.stack) } }]) });
