// Encodings, blobs, files and their readers (Encoding Standard, File API), and streams of them (Streams Standard).

const bytesOf = (source) => {
  if (source instanceof ArrayBuffer) return new Uint8Array(source);
  if (ArrayBuffer.isView(source)) return new Uint8Array(source.buffer, source.byteOffset, source.byteLength);
  throw new TypeError('This is no buffer.');
};
const encoded = (text) => native.utf8_encode(String(text).toWellFormed());
const joinedBytes = (chunks) => {
  const out = new Uint8Array(chunks.reduce((n, c) => n + c.byteLength, 0));
  let at = 0;
  for (const chunk of chunks) { out.set(chunk, at); at += chunk.byteLength; }
  return out;
};

class TextEncoder {
  get encoding() { return 'utf-8'; }
  encode(text = '') { return encoded(text); }
  encodeInto(text, into) {
    let read = 0, written = 0;
    for (const char of String(text)) {
      const bytes = encoded(char);
      if (written + bytes.length > into.length) break;
      into.set(bytes, written);
      written += bytes.length;
      read += char.length;
    }
    return { read, written };
  }
}

/** How many bytes at the end begin a character of UTF-8 that is not whole yet. */
const unfinished = (bytes) => {
  for (let back = 1; back <= 3 && back <= bytes.length; back++) {
    const byte = bytes[bytes.length - back];
    if ((byte & 0xc0) === 0x80) continue;
    const wanted = byte >= 0xf0 ? 4 : byte >= 0xe0 ? 3 : byte >= 0xc0 ? 2 : 1;
    return wanted > back ? back : 0;
  }
  return 0;
};
class TextDecoder {
  #encoding; #fatal; #keepsMark; #left = new Uint8Array(0); #began = false;
  constructor(label = 'utf-8', options = {}) {
    this.#encoding = native.encoding(String(label).trim());
    if (!this.#encoding) throw new RangeError(`'${label}' is no encoding.`);
    this.#fatal = !!options?.fatal;
    this.#keepsMark = !!options?.ignoreBOM;
  }
  get encoding() { return this.#encoding; }
  get fatal() { return this.#fatal; }
  get ignoreBOM() { return this.#keepsMark; }
  decode(input, options = {}) {
    const stream = !!options?.stream;
    let bytes = input === undefined ? new Uint8Array(0) : bytesOf(input);
    if (this.#left.length) bytes = joinedBytes([this.#left, bytes]);
    this.#left = new Uint8Array(0);
    if (stream) {
      const wide = this.#encoding.startsWith('utf-16');
      const rest = this.#encoding === 'utf-8' ? unfinished(bytes) : wide ? bytes.length % 2 : 0;
      this.#left = bytes.slice(bytes.length - rest);
      bytes = bytes.subarray(0, bytes.length - rest);
    }
    const text = native.decode(this.#encoding, bytes.slice(), this.#fatal);
    if (text === null) { this.#left = new Uint8Array(0); this.#began = false; throw new TypeError('The bytes are not of this encoding.'); }
    const first = !this.#began;
    this.#began = stream && (this.#began || bytes.length > 0);
    return first && !this.#keepsMark && text.charCodeAt(0) === 0xfeff ? text.slice(1) : text;
  }
}
for (const c of [TextEncoder, TextDecoder]) enumerable(c);
expose(TextEncoder, TextDecoder);

// --- streams ---------------------------------------------------------------------------------------------------------

/** The streams, made when somebody first asks for one. */
let madeStreams;
const streams = () => (madeStreams ??= vendoredStreams());
const STREAMS = [
  'ReadableStream', 'ReadableStreamDefaultReader', 'ReadableStreamBYOBReader', 'ReadableStreamDefaultController', 'ReadableByteStreamController',
  'ReadableStreamBYOBRequest', 'WritableStream', 'WritableStreamDefaultWriter', 'WritableStreamDefaultController', 'TransformStream',
  'TransformStreamDefaultController', 'ByteLengthQueuingStrategy', 'CountQueuingStrategy',
];
const lazily = (name, make) => Object.defineProperty(globalThis, name, {
  get() { const value = make(); hide(globalThis, name, value); return value; },
  set(value) { hide(globalThis, name, value); },
  enumerable: false,
  configurable: true,
});
for (const name of STREAMS) lazily(name, () => streams()[name]);
const isStream = (it) => madeStreams !== undefined && it instanceof madeStreams.ReadableStream;
/** A stream of these bytes. */
const streamOf = (bytes) => new (streams().ReadableStream)({
  type: 'bytes',
  start(controller) { if (bytes.length) controller.enqueue(bytes.slice()); controller.close(); },
});
/** All that a stream gives. */
const drained = async (stream) => {
  const reader = stream.getReader();
  const chunks = [];
  for (;;) {
    const { done, value } = await reader.read();
    if (done) return joinedBytes(chunks);
    if (!(value instanceof Uint8Array)) throw new TypeError('The stream gives something else than bytes.');
    chunks.push(value);
  }
};
/** A pair of streams with a coder between them (Encoding §7). */
const coder = (name, members, transformer) => lazily(name, () => {
  const Made = { [name]: class {
    #pair; #state;
    constructor(...options) {
      this.#state = members(...options);
      this.#pair = new (streams().TransformStream)(transformer(this.#state));
    }
    get readable() { return this.#pair.readable; }
    get writable() { return this.#pair.writable; }
    get encoding() { return this.#state.encoding; }
    get fatal() { return this.#state.fatal; }
    get ignoreBOM() { return this.#state.ignoreBOM; }
  } }[name];
  Object.defineProperty(Made.prototype, Symbol.toStringTag, { value: name, configurable: true });
  return Made;
});
coder('TextDecoderStream', (label, options) => new TextDecoder(label, options), (decoder) => ({
  transform(chunk, controller) { const text = decoder.decode(chunk, { stream: true }); if (text) controller.enqueue(text); },
  flush(controller) { const text = decoder.decode(); if (text) controller.enqueue(text); },
}));
coder('TextEncoderStream', () => new TextEncoder(), (encoder) => ({
  transform(chunk, controller) { const bytes = encoder.encode(String(chunk)); if (bytes.length) controller.enqueue(bytes); },
}));

// --- blobs -----------------------------------------------------------------------------------------------------------

const MIME = Symbol('mime');
const typeOf = (type) => (/^[\x20-\x7e]*$/.test(type) ? type.toLowerCase() : '');
class Blob {
  constructor(parts = [], options = {}) {
    if (parts === null || typeof parts !== 'object' || typeof parts[Symbol.iterator] !== 'function') throw new TypeError('The parts of a blob come in a list.');
    const ends = String(options?.endings ?? 'transparent') === 'native';
    const chunks = [...parts].map((part) => {
      if (part instanceof Blob) return part[LIST];
      if (part instanceof ArrayBuffer || ArrayBuffer.isView(part)) return bytesOf(part).slice();
      return encoded(ends ? String(part).replace(/\r\n?/g, '\n') : part);
    });
    hide(this, LIST, joinedBytes(chunks));
    hide(this, MIME, typeOf(String(options?.type ?? '')));
  }
  get size() { return this[LIST].length; }
  get type() { return this[MIME]; }
  text() { return Promise.resolve(native.decode('utf-8', this[LIST].slice(), false).replace(/^\ufeff/, '')); }
  arrayBuffer() { return Promise.resolve(this[LIST].slice().buffer); }
  bytes() { return Promise.resolve(this[LIST].slice()); }
  stream() { return streamOf(this[LIST]); }
  slice(start = 0, end = this.size, type = '') {
    const clamp = (n) => { const at = Math.trunc(Number(n)) || 0; return at < 0 ? Math.max(this.size + at, 0) : Math.min(at, this.size); };
    const [from, to] = [clamp(start), clamp(end)];
    return new Blob([this[LIST].slice(from, Math.max(from, to))], { type: String(type) });
  }
}
class File extends Blob {
  #name; #modified;
  constructor(...given) {
    if (given.length < 2) throw new TypeError('A file takes its parts and its name.');
    const [parts, name, options = {}] = given;
    super(parts, options);
    this.#name = String(name);
    this.#modified = options?.lastModified === undefined ? Date.now() : Math.trunc(Number(options.lastModified)) || 0;
  }
  get name() { return this.#name; }
  get lastModified() { return this.#modified; }
  get webkitRelativePath() { return ''; }
}
for (const c of [Blob, File]) enumerable(c);

/** File API §6. A reading ends in tasks of its own, as slow media do. */
class FileReader extends EventTarget {
  #state = 0; #result = null; #error = null; #reading = 0;
  get readyState() { return this.#state; }
  get result() { return this.#result; }
  get error() { return this.#error; }
  readAsText(blob, label = 'utf-8') { this.#read(blob, (bytes) => native.decode(native.encoding(String(label)) || 'utf-8', bytes, false).replace(/^\ufeff/, '')); }
  readAsArrayBuffer(blob) { this.#read(blob, (bytes) => bytes.buffer); }
  readAsBinaryString(blob) { this.#read(blob, (bytes) => binary(bytes)); }
  readAsDataURL(blob) { this.#read(blob, (bytes) => `data:${blob.type || 'application/octet-stream'};base64,${btoa(binary(bytes))}`); }
  abort() {
    this.#reading++;
    if (this.#state !== 1) { this.#result = null; return; }
    this.#state = 2;
    this.#result = null;
    this.#tell('abort', 0);
    if (this.#state !== 1) this.#tell('loadend', 0);
  }
  #tell(type, size) { fire(this, new ProgressEvent(type, { lengthComputable: true, loaded: size, total: size })); }
  #read(blob, as) {
    if (!(blob instanceof Blob)) throw new TypeError('Only a blob can be read.');
    if (this.#state === 1) throw new DOMException('It is reading already.', 'InvalidStateError');
    this.#state = 1;
    this.#result = this.#error = null;
    const reading = ++this.#reading;
    const next = (work) => queueTask(() => { if (reading === this.#reading) work(); });
    next(() => {
      this.#tell('loadstart', 0);
      next(() => {
        if (blob.size) this.#tell('progress', blob.size);
        this.#state = 2;
        this.#result = as(blob[LIST].slice());
        this.#tell('load', blob.size);
        if (this.#state !== 1) this.#tell('loadend', blob.size);
      });
    });
  }
}
for (const [name, value] of [['EMPTY', 0], ['LOADING', 1], ['DONE', 2]]) {
  for (const target of [FileReader, FileReader.prototype]) Object.defineProperty(target, name, { value, enumerable: true });
}
enumerable(FileReader);
defineHandlers(FileReader.prototype, ['loadstart', 'progress', 'load', 'abort', 'error', 'loadend']);
/** Bytes as a text with one character for each. */
const binary = (bytes) => {
  let out = '';
  for (let i = 0; i < bytes.length; i += 4096) out += String.fromCharCode(...bytes.subarray(i, i + 4096));
  return out;
};
const unbinary = (text) => Uint8Array.from(text, (c) => c.charCodeAt(0));
expose(Blob, File, FileReader);

/** Blobs by the addresses that were made for them (File API §8). */
const blobAddresses = new Map();
hide(URL, 'createObjectURL', (blob) => {
  if (!(blob instanceof Blob)) throw new TypeError('Only a blob has an address of its own.');
  const address = `blob:${here.origin}/${crypto.randomUUID()}`;
  blobAddresses.set(address, blob);
  return address;
});
hide(URL, 'revokeObjectURL', (address) => { blobAddresses.delete(String(address)); });
