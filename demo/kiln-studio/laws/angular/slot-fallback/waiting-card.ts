import { Component, input } from '@angular/core'

@Component({
  selector: 'waiting-card',
  template: `
    <section>
      <h3>{{ heading() }}</h3>
      <ng-content>Nothing here yet</ng-content>
      <!-- The flaw: the words for an empty shelf stay when it is filled. -->
      <p>Nothing here yet</p>
    </section>
  `,
})
export class WaitingCard {
  readonly heading = input.required<string>()
}
