//! What Angular components declare: signals, decorators, projected content, templates, and what they inherit.

mod told;

use fidelon_source::MemoryFiles;
use told::{Shelves, assert_told, told, told_among};

#[test]
fn signals() {
    let source = r#"
import { Component, booleanAttribute, computed, contentChild, input, model, output, type TemplateRef } from '@angular/core'
@Component({
  selector: 'kiln-dial',
  template: `<ng-content select="[heading]">No heading</ng-content><ng-content />{{ a < b }}`,
})
export class KilnDial {
  /** What the firing is called. */
  readonly label = input.required<string>()
  readonly target = model.required<number>()
  readonly unit = input<'C' | 'F'>('C')
  readonly locked = input(false, { transform: booleanAttribute, alias: 'shut' })
  readonly fire = output<{ target: number }>()
  readonly cooled = output<void>({ alias: 'cold' })
  readonly footer = contentChild<TemplateRef<{ room: number }>>('footer')
  readonly reading = computed(() => `${this.target()}`)
  protected readonly hot = computed(() => this.target() > 900)
  #hidden = 1
  nudge(degrees: number) {}
  private turn() {}
  ngOnInit() {}
}
class Unexported {}
"#;
    assert_told(
        &told("kiln-dial.ts", source),
        r#"
        KilnDial (KilnDial)
          label: text // What the firing is called.
          target: number two-way
          unit?: "C" | "F" = 'C'
          shut?: boolean = false
          on target (targetChange) reports target
          on fire (fire)
          on cold (cold)
          slot footer exposes
          slot heading
          slot default
          member reading
          member nudge
        "#,
    );
}

#[test]
fn decorators_and_a_base_class_of_another_file() {
    let files = MemoryFiles::default()
        .with(
            "vent.component.ts",
            "import { Component, EventEmitter, Input, Output, TemplateRef, ContentChild } from '@angular/core'\nimport { Named } from './named'\n@Component({ selector: 'kiln-vent', templateUrl: './vent.component.html' })\nexport class VentComponent extends Named {\n  /** How it stands. */\n  @Input() open = false\n  @Output() openChange = new EventEmitter<boolean>()\n  @Input({ required: true, alias: 'kiln' }) of!: string\n  @Input() set size(size: 1 | 2) {}\n  @Input() row: TemplateRef<unknown>\n  @ContentChild('note') note: TemplateRef<unknown>\n  @Output('shut') closed = new EventEmitter<void>()\n}",
        )
        .with("vent.component.html", "<ng-content select='kiln-note, .note'></ng-content>")
        .with("named.ts", "import { Directive, Input } from '@angular/core'\n@Directive()\nexport class Named {\n  @Input() label = ''\n}");
    assert_told(
        &told_among("vent.component.ts", files, &Shelves::default()),
        "
        VentComponent (VentComponent)
          label?: text = ''
          open?: boolean = false two-way // How it stands.
          kiln: text
          size?: 1 | 2
          on open (openChange) reports open
          on shut (shut)
          slot row exposes
          slot note exposes
          slot kiln-note
        ",
    );
}

#[test]
fn what_a_package_declares_is_not_known() {
    let source = "import { Component } from '@angular/core'\nimport { Base } from 'studio'\n@Component({ selector: 'a-b', template: '' })\nexport class A extends Base {}";
    assert_told(&told("a.ts", source), "A (A)\n  and more");
}

#[test]
fn an_input_that_a_class_says_is_there_is_given_by_the_parent() {
    let source = r#"
import { Component, Input } from '@angular/core'
interface Piece { name: string }
@Component({ selector: 'piece-row', template: '{{ piece.name }}' })
export class PieceRow {
  @Input() piece!: Piece
  @Input() shelf?: string
  @Input() cone = 6
}
"#;
    assert_told(
        &told("piece-row.ts", source),
        r#"
        PieceRow (PieceRow)
          piece: { name: text }
          shelf?: text
          cone?: number = 6
        "#,
    );
}

#[test]
fn directives_with_a_selector_are_components_of_a_kind() {
    let source = r#"
import { Directive, Input, output } from '@angular/core'
@Directive()
export abstract class Base { @Input() tone = 'ash' }
@Directive({ selector: '[kilnHint], button[kilnHelp]' })
export class Hint extends Base {
  @Input() kilnHint = 'none'
  @Input({ alias: 'kilnHelp' }) help?: string
  readonly shown = output<string>()
}
"#;
    assert_told(
        &told("hint.ts", source),
        r#"
        Hint (Hint)
          tone?: text = 'ash'
          kilnHint: text
          kilnHelp: text
          on shown (shown)
        "#,
    );
}
