import { ChangeDetectionStrategy, Component, Input } from '@angular/core'

@Component({
  selector: 'stuck-tally',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `<p>{{ kiln }}: {{ firings }} firings <button type="button" (click)="fire()">Fire</button></p>`,
})
export class StuckTally {
  @Input() kiln = ''
  firings = 0

  fire() {
    // The flaw: by then the view was looked at, and nothing marks it again.
    setTimeout(() => { this.firings += 1 }, 200)
  }
}
