import { Component, EventEmitter, Input, Output } from '@angular/core'

@Component({
  selector: 'deaf-field',
  template: `<label>Glaze <input [value]="text" (input)="edit($event)" /></label>`,
})
export class DeafField {
  @Input({ required: true }) glaze!: string
  @Output() readonly glazeChange = new EventEmitter<string>()
  protected text = ''

  // The flaw: the field holds a copy, so what the parent sets later never shows.
  ngOnInit() {
    this.text = this.glaze
  }

  protected edit(event: Event) {
    this.text = (event.target as HTMLInputElement).value
    this.glazeChange.emit(this.text)
  }
}
