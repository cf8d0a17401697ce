import { Component, input } from '@angular/core'

@Component({
  selector: 'twin-field',
  template: `
    <!-- The flaw: a second field on the page has the same id. -->
    <div><label for="glaze-field">{{ label() }}</label><input id="glaze-field" aria-label="Glaze" /></div>
  `,
})
export class TwinField {
  readonly label = input.required<string>()
}
