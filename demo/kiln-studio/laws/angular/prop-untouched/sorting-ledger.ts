import { Component, computed, input } from '@angular/core'

@Component({
  selector: 'sorting-ledger',
  template: `<ul>@for (piece of sorted(); track $index) { <li>{{ piece }}</li> }</ul>`,
})
export class SortingLedger {
  readonly pieces = input.required<string[]>()
  // The flaw: `sort` sorts the parent's own list.
  protected readonly sorted = computed(() => this.pieces().sort())
}
