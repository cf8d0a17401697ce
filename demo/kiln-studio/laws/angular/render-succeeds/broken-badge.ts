import { Component, input } from '@angular/core'

@Component({
  selector: 'broken-badge',
  template: `<span class="badge">{{ finish() }}: {{ angles[finish()].shine }}</span>`,
})
export class BrokenBadge {
  readonly finish = input.required<'gloss' | 'satin' | 'matte'>()
  // The flaw: the table has no entry for a finish that is declared.
  protected readonly angles: Record<string, { shine: number }> = { gloss: { shine: 90 }, satin: { shine: 40 } }
}
