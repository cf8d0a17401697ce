import { Component, input, output, type OnChanges, type SimpleChanges } from '@angular/core'

@Component({
  selector: 'jumpy-picker',
  template: `<button type="button" [attr.aria-label]="'Pick ' + glaze()" (click)="pick.emit(glaze())">{{ glaze() }}</button>`,
})
export class JumpyPicker implements OnChanges {
  readonly glaze = input.required<string>()
  readonly pick = output<string>()

  ngOnChanges(changes: SimpleChanges) {
    // The flaw: another glaze of the parent's is told as if somebody had picked it.
    if (!changes['glaze'].firstChange) this.pick.emit(this.glaze())
  }
}
