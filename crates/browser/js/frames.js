// Runs in every window before anything else does, those of frames too: no way out by sockets of another kind, and in a frame the time, the
// chance and the requests of the page.
for (const name of ['RTCPeerConnection', 'webkitRTCPeerConnection', 'RTCDataChannel', 'RTCIceTransport', 'WebTransport']) delete window[name];
if (window !== window.parent) {
  const { parent } = window;
  const shared = ['Date', 'fetch', 'XMLHttpRequest', 'EventSource', 'WebSocket', 'setTimeout', 'clearTimeout', 'setInterval', 'clearInterval', 'requestAnimationFrame', 'cancelAnimationFrame',
    'requestIdleCallback', 'cancelIdleCallback', 'queueMicrotask', 'crypto', 'performance'];
  try {
    for (const name of shared) if (name in parent) Object.defineProperty(window, name, { get: () => parent[name], configurable: true });
    Math.random = () => parent.Math.random();
  } catch { /* a frame of another origin, which nothing of the page can reach either */ }
}
