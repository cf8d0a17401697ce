import { ChangeDetectionStrategy, Component, EventEmitter, Input, OnChanges, OnDestroy, OnInit, Output } from '@angular/core'
import { CommonModule } from '@angular/common'

export interface Booking {
  id: number
  guest: string
  seats: number
  paid?: boolean
}

@Component({
  selector: 'app-booking-list',
  standalone: true,
  imports: [CommonModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <section [attr.aria-busy]="loading">
      <ng-content select="[heading]"></ng-content>
      <label>Only unpaid <input type="checkbox" [checked]="unpaid" (change)="setUnpaid(!unpaid)" /></label>
      <p *ngIf="loading; else list">Loading</p>
      <ng-template #list>
        <ul>
          <li *ngFor="let booking of shown; trackBy: byId" [class.paid]="booking.paid">
            {{ booking.guest }}, {{ booking.seats }} {{ booking.seats === 1 ? 'seat' : 'seats' }}
            <button type="button" [disabled]="locked" (click)="cancel.emit(booking.id)">Cancel {{ booking.guest }}</button>
          </li>
        </ul>
        <p *ngIf="shown.length === 0">No bookings</p>
      </ng-template>
      <p role="status">{{ taken }} of {{ places }} seats, waiting {{ waited }} s</p>
      <ng-content></ng-content>
    </section>
  `
})
export class BookingListComponent implements OnChanges, OnInit, OnDestroy {
  @Input() bookings: Booking[] = []
  @Input() places = 12
  @Input() locked = false
  @Input() loading = false
  @Input() unpaid = false
  @Output() unpaidChange = new EventEmitter<boolean>()
  @Output() cancel = new EventEmitter<number>()

  shown: Booking[] = []
  taken = 0
  waited = 0
  private timer?: ReturnType<typeof setInterval>

  ngOnInit() {
    this.timer = setInterval(() => this.waited++, 60000)
  }

  ngOnChanges() {
    this.shown = this.unpaid ? this.bookings.filter((b) => !b.paid) : this.bookings
    this.taken = this.bookings.reduce((sum, b) => sum + b.seats, 0)
  }

  ngOnDestroy() {
    clearInterval(this.timer)
  }

  setUnpaid(value: boolean) {
    this.unpaid = value
    this.ngOnChanges()
    this.unpaidChange.emit(value)
  }

  byId(_: number, booking: Booking) {
    return booking.id
  }
}
