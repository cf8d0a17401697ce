//! What components of Solid and Preact declare: JSX by whose it is.

mod told;

use fidelon_source::MemoryFiles;
use told::{Shelves, assert_told, told_among};

fn solid(source: &str) -> String {
    let shelves = Shelves { jsx: "solid-js", ..Shelves::default() };
    told_among("KilnDial.tsx", MemoryFiles::default().with("KilnDial.tsx", source), &shelves)
}

#[test]
fn defaults_are_merged_and_a_ref_is_handed_its_type() {
    let source = r#"
import { mergeProps, type JSX, type Component } from 'solid-js'
interface Props {
  label: string
  target?: number
  onTargetChange?: (target: number) => void
  footer?: (shelf: { room: number }) => JSX.Element
  children?: JSX.Element
  ref?: (dial: { reset(): void; readonly reading: string }) => void
}
const KilnDial: Component<Props> = (given) => {
  const props = mergeProps({ target: 600 }, given)
  return <p>{props.label}</p>
}
export default KilnDial
"#;
    assert_told(
        &solid(source),
        "
        KilnDial (default)
          label: text
          target?: number = 600 two-way
          on target (onTargetChange) reports target
          slot footer exposes
          slot default
          member reset
          member reading
        ",
    );
}

#[test]
fn without_types_what_is_read_tells() {
    let source = "export function KilnDial(props) { return <p onClick={props.onTurn}>{props.label} {props.children}</p> }";
    assert_told(
        &solid(source),
        "
        KilnDial (KilnDial)
          label?: ?any?
          on turn (onTurn)
          slot default
          and more
        ",
    );
}

#[test]
fn content_of_preact_is_content() {
    let source = "import type { ComponentChildren } from 'preact'\nexport function ShelfCard({ title = 'Shelf', heading }: { title?: string; heading?: ComponentChildren }) { return <p>{title}</p> }";
    let shelves = Shelves { jsx: "preact", ..Shelves::default() };
    let told = told_among("ShelfCard.tsx", MemoryFiles::default().with("ShelfCard.tsx", source), &shelves);
    assert_told(&told, "ShelfCard (ShelfCard)\n  title?: text = 'Shelf'\n  slot heading");
}
