// Message channels (HTML §9.4): messages are tasks of the virtual clock, for which schedulers wait. Shared with the stage in a real
// browser.

const OTHER = Symbol('other');
class MessagePort extends EventTarget {
  postMessage(data) { const other = this[OTHER]; queueTask(() => fire(other, new MessageEvent('message', { data: structuredClone(data) }))); }
  start() {}
  close() {}
}
defineHandlers(MessagePort.prototype, ['message', 'messageerror']);
class MessageChannel {
  constructor() {
    this.port1 = new MessagePort();
    this.port2 = new MessagePort();
    hide(this.port1, OTHER, this.port2);
    hide(this.port2, OTHER, this.port1);
  }
}
expose(MessagePort, MessageChannel);
