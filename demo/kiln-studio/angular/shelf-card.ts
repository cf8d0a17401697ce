import { NgTemplateOutlet } from '@angular/common'
import { Component, computed, contentChild, input, type TemplateRef } from '@angular/core'

@Component({
  selector: 'shelf-card',
  imports: [NgTemplateOutlet],
  template: `
    <section class="shelf-card" [attr.aria-label]="title()">
      <header class="heading"><ng-content select="[heading]">{{ title() }}</ng-content></header>
      <div class="pieces"><ng-content><p class="empty">Nothing on this shelf yet</p></ng-content></div>
      <footer class="footer">
        @if (footer(); as content) {
          <ng-container [ngTemplateOutlet]="content" [ngTemplateOutletContext]="{ count: count(), room: room() }" />
        } @else {
          {{ count() }} of {{ capacity() }}
        }
      </footer>
      <!-- A template stands where it is written, too: it is no piece. -->
      <ng-content select="ng-template" />
    </section>
  `,
})
export class ShelfCard {
  readonly title = input('Shelf')
  /** How many pieces the shelf holds. */
  readonly capacity = input(3)
  /** How many stand on it. */
  readonly count = input(0)

  protected readonly footer = contentChild<TemplateRef<{ count: number; room: number }>>('footer')
  protected readonly room = computed(() => Math.max(0, this.capacity() - this.count()))
}
