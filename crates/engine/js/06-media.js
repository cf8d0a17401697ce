// Media elements (HTML §4.8.11) of which no data ever comes: what scripts set is kept and told, and nothing plays.
class TimeRanges {
  get length() { return 0; }
  start() { throw new DOMException('there is no such range', 'IndexSizeError'); }
  end() { throw new DOMException('there is no such range', 'IndexSizeError'); }
}
class TextTrackList extends EventTarget {
  get length() { return 0; }
  getTrackById() { return null; }
  [Symbol.iterator]() { return [][Symbol.iterator](); }
}
expose(TimeRanges, TextTrackList);

const players = new WeakMap();
const playerOf = (element) => {
  let it = players.get(element);
  if (!it) {
    it = { muted: null, volume: 1, playbackRate: 1, defaultPlaybackRate: 1, start: 0, paused: true, pitch: true, tracks: null, waiting: [] };
    players.set(element, it);
  }
  return it;
};
const tell = (element, ...types) => queueTask(() => types.forEach((type) => fire(element, new Event(type))));
const finite = (v) => {
  const n = Number(v);
  if (!Number.isFinite(n)) throw new TypeError('the value is no finite number');
  return n;
};
/** Whoever waits for it to play is told that it does not. */
const giveUp = (it) => {
  for (const reject of it.waiting.splice(0)) queueTask(() => reject(new DOMException('It was paused before it played.', 'AbortError')));
};

class HTMLMediaElement extends HTMLElement {
  get currentSrc() { return this.getAttribute('src') === null ? '' : this.src; }
  get networkState() { return this.getAttribute('src') === null ? 0 : 3; }
  get readyState() { return 0; }
  get error() { return null; }
  get duration() { return NaN; }
  get ended() { return false; }
  get seeking() { return false; }
  get buffered() { return new TimeRanges(); }
  get played() { return new TimeRanges(); }
  get seekable() { return new TimeRanges(); }
  get srcObject() { return playerOf(this).object ?? null; }
  set srcObject(v) { playerOf(this).object = v; }
  // Without data it is where playing is to start (§4.8.11.6).
  get currentTime() { return playerOf(this).start; }
  set currentTime(v) { playerOf(this).start = finite(v); }
  get paused() { return playerOf(this).paused; }
  get muted() { return playerOf(this).muted ?? this.defaultMuted; }
  set muted(v) {
    const before = this.muted;
    playerOf(this).muted = !!v;
    if (before !== !!v) tell(this, 'volumechange');
  }
  get volume() { return playerOf(this).volume; }
  set volume(v) {
    const n = finite(v);
    if (n < 0 || n > 1) throw new DOMException(`the volume ${n} is not between 0 and 1`, 'IndexSizeError');
    const it = playerOf(this);
    const changes = it.volume !== n;
    it.volume = n;
    if (changes) tell(this, 'volumechange');
  }
  get preservesPitch() { return playerOf(this).pitch; }
  set preservesPitch(v) { playerOf(this).pitch = !!v; }
  get textTracks() { return playerOf(this).tracks ??= new TextTrackList(); }
  // Without a source it waits for one, until it is to play no more; with one that gives nothing playing is refused (§4.8.11.8).
  play() {
    const it = playerOf(this);
    if (it.paused) {
      it.paused = false;
      tell(this, 'play', 'waiting');
    }
    const hasSource = this.getAttribute('src') !== null || it.object || this.querySelector('source[src]');
    if (hasSource) return Promise.reject(new DOMException('This stage plays no media.', 'NotSupportedError'));
    return new Promise((_, reject) => it.waiting.push(reject));
  }
  pause() {
    const it = playerOf(this);
    if (it.paused) return;
    it.paused = true;
    tell(this, 'timeupdate', 'pause');
    giveUp(it);
  }
  load() {
    const it = playerOf(this);
    Object.assign(it, { start: 0, paused: true });
    giveUp(it);
  }
  fastSeek(v) { this.currentTime = v; }
  canPlayType() { return ''; }
}
for (const name of ['playbackRate', 'defaultPlaybackRate']) {
  accessor(HTMLMediaElement.prototype, name, function () { return playerOf(this)[name]; }, function (v) {
    const [it, n] = [playerOf(this), finite(v)];
    if (it[name] !== n) tell(this, 'ratechange');
    it[name] = n;
  });
}
enumerable(HTMLMediaElement);
[['NETWORK_EMPTY', 'NETWORK_IDLE', 'NETWORK_LOADING', 'NETWORK_NO_SOURCE'], ['HAVE_NOTHING', 'HAVE_METADATA', 'HAVE_CURRENT_DATA', 'HAVE_FUTURE_DATA', 'HAVE_ENOUGH_DATA']]
  .forEach((names) => names.forEach((name, value) => {
    for (const target of [HTMLMediaElement, HTMLMediaElement.prototype]) Object.defineProperty(target, name, { value, enumerable: true });
  }));
reflect(HTMLMediaElement, 'src:u crossOrigin autoplay:b loop:b controls:b defaultMuted:b');
enumerated(HTMLMediaElement, 'preload', ['none', 'metadata', 'auto'], 'metadata', 'metadata');
expose(HTMLMediaElement);
define('Audio', 'audio', '', HTMLMediaElement);
const HTMLVideoElement = define('Video', 'video', 'width:n height:n poster:u playsInline:b disablePictureInPicture:b', HTMLMediaElement);
accessor(HTMLVideoElement.prototype, 'videoWidth', () => 0);
accessor(HTMLVideoElement.prototype, 'videoHeight', () => 0);
// HTML §4.8.10: the constructor that pages use.
const AudioConstructor = function (src) {
  const audio = document.createElement('audio');
  audio.setAttribute('preload', 'auto');
  if (src !== undefined) audio.setAttribute('src', src);
  return audio;
};
AudioConstructor.prototype = TAGS.get('audio').prototype;
hide(globalThis, 'Audio', AudioConstructor);
