import { Component, input } from '@angular/core'

@Component({
  selector: 'stuck-log',
  template: `
    @if (isEmpty || !rows()) {
      <p>No firings yet</p>
    } @else {
      <ul>@for (row of rows(); track row) { <li>{{ row }}</li> }</ul>
    }
  `,
})
export class StuckLog {
  readonly rows = input<string[]>()
  protected isEmpty = true

  // The flaw: whether there is anything to show is decided once.
  ngOnInit() {
    this.isEmpty = this.rows() === undefined
  }
}
