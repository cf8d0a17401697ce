import { Component, DestroyRef, inject, input, signal } from '@angular/core'

@Component({
  selector: 'loop-dial',
  template: `<output [attr.aria-label]="label()">{{ heat() }}</output>`,
})
export class LoopDial {
  readonly label = input.required<string>()
  protected readonly heat = signal(0)

  constructor() {
    // The flaw: each turn of the loop starts the next one.
    const { port1, port2 } = new MessageChannel()
    port1.onmessage = () => {
      this.heat.update((heat) => (heat + 1) % 7)
      port2.postMessage(null)
    }
    port2.postMessage(null)
    inject(DestroyRef).onDestroy(() => port1.close())
  }
}
