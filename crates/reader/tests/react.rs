//! What React components declare: typed props, defaults, events, slots, handles, and every way to export.

mod told;

use fidelon_source::MemoryFiles;
use told::{Shelves, assert_told, told, told_among};

#[test]
fn typed_props_are_sorted_into_props_events_and_slots() {
    let source = r#"
import { type ReactNode, useImperativeHandle, type Ref } from 'react'
interface Reading { count: number }
export interface KilnDialProps {
  /** Shown beside the dial. */
  label: string
  target?: number
  onTargetChange?: (target: number) => void
  unit?: 'C' | 'F'
  locked?: boolean
  onFire(payload: { target: number }): void
  children?: ReactNode
  heading?: React.ReactNode
  footer?: (reading: Reading) => ReactNode
  ref?: Ref<{ reset(): void }>
}
export default function KilnDial({ label, target = 600, unit = 'C', locked = false, ref, ...rest }: KilnDialProps) {
  useImperativeHandle(ref, () => ({ reset() {}, nudge: (n: number) => n }))
  return <p>{label}</p>
}
"#;
    assert_told(
        &told("KilnDial.tsx", source),
        r#"
        KilnDial (default)
          label: text // Shown beside the dial.
          target?: number = 600 two-way
          unit?: "C" | "F" = 'C'
          locked?: boolean = false
          on target (onTargetChange) reports target
          on fire (onFire)
          slot default
          slot heading
          slot footer exposes
          member reset
          member nudge
        "#,
    );
}

#[test]
fn every_way_to_make_and_export_a_component() {
    let wanted = |export: &str| format!("Badge ({export})\n  glaze: text");
    for (source, export) in [
        ("export default function Badge(p: { glaze: string }) { return <b/> }", "default"),
        ("export function Badge(p: { glaze: string }) { return <b/> }", "Badge"),
        ("export const Badge = (p: { glaze: string }) => <b/>", "Badge"),
        ("export const Badge = function (p: { glaze: string }) { return <b/> }", "Badge"),
        ("function Badge(p: { glaze: string }) { return <b/> }\nexport default Badge", "default"),
        ("function Badge(p: { glaze: string }) { return <b/> }\nexport { Badge }", "Badge"),
        ("const Badge = (p: { glaze: string }) => <b/>\nexport { Badge as default }", "default"),
        ("import { memo } from 'react'\nexport const Badge = memo((p: { glaze: string }) => <b/>)", "Badge"),
        ("import { memo } from 'react'\nconst Badge = (p: { glaze: string }) => <b/>\nexport default memo(Badge)", "default"),
        ("import React from 'react'\nexport const Badge = React.forwardRef<HTMLElement, { glaze: string }>((p, r) => <b/>)", "Badge"),
        ("function Plain(p: { glaze: string }, r) { return <b/> }\nexport const Badge = connected(Plain, 'Badge')", "Badge"),
        (
            "import { forwardRef } from 'react'\nexport function Plain(p: { glaze: string }, r) { return <b/> }\nexport const Badge = forwardRef(Plain)",
            "Badge",
        ),
        ("import { FC } from 'react'\nexport const Badge: FC<{ glaze: string }> = ({ glaze }) => <b/>", "Badge"),
        (
            "import { memo, forwardRef } from 'react'\nexport default memo(forwardRef<HTMLElement, { glaze: string }>(function Badge(p, r) { return <b/> }))",
            "default",
        ),
    ] {
        assert_eq!(told("Badge.tsx", source), wanted(export), "{source}");
    }
}

#[test]
fn comments_type_what_plain_scripts_declare() {
    for source in [
        "/** @param {{ glaze: string, cone?: number }} props */\nexport default function Badge(props) { return <b>{props.glaze}</b> }",
        "/**\n * @param {Object} props - What it takes.\n * @param {string} props.glaze\n * @param {number} [props.cone]\n */\nexport default function Badge({ glaze, cone }) { return <b/> }",
        "import React from 'react'\n/** @type {React.FC<{ glaze: string, cone?: number }>} */\nconst Badge = (props) => <b/>\nexport default Badge",
    ] {
        assert_eq!(told("Badge.jsx", source), "Badge (default)\n  glaze: text\n  cone?: number", "{source}");
    }
}

#[test]
fn what_a_library_makes_components_by_is_given_a_function_that_renders() {
    for source in [
        "import { create } from './make'\nexport const Badge = create('b')((props: { glaze: string }, Element) => <Element>{props.glaze}</Element>)",
        "import { create } from './make'\nexport const Badge = create('b')({ displayName: 'Badge', Component: ({ glaze }: { glaze: string }, ref) => <b ref={ref}>{glaze}</b> })",
    ] {
        assert_eq!(told("Badge.tsx", source), "Badge (Badge)\n  glaze: text", "{source}");
    }
    let other = "import { route, context } from './make'\nexport const Route = route('/')({ component: () => <b/> })\nexport const Kiln = context({ cone: 6 })";
    assert_eq!(told("Route.tsx", other), "");
}

#[test]
fn a_handle_has_what_its_type_promises() {
    let source = "import { forwardRef, useImperativeHandle } from 'react'\ninterface Handle { open(): void; close(): void; note?: string }\nexport default forwardRef<Handle, { glaze: string }>(function Badge(props, ref) {\n  useImperativeHandle(ref, () => ({ open() {} }))\n  return <b/>\n})";
    assert_eq!(told("Badge.tsx", source), "Badge (default)\n  glaze: text\n  member open\n  member close");
}

#[test]
fn several_components_of_a_file() {
    let source = "export function Mug(p: { a: string }) { return <b/> }\nexport const Bowl = (p: { b?: number }) => <i/>\nexport const glaze = 1\nexport function useKiln() {}\nexport type T = 1\n";
    assert_eq!(told("pots.tsx", source), "Mug (Mug)\n  a: text\n---\nBowl (Bowl)\n  b?: number");
}

#[test]
fn a_callback_that_gives_nothing_is_an_event_whatever_it_is_called() {
    for (ty, wanted) in [
        ("() => void", "  on x (x)"),
        ("((by: number) => void) | null", "  on x (x)"),
        ("(by: number) => Promise<void>", "  on x (x)"),
        ("(n: number) => string", "  x: function"),
        ("() => boolean", "  x: function"),
    ] {
        let source = format!("export function A({{ x }}: {{ x: {ty} }}) {{ return <p/> }}");
        let surface = told("A.tsx", &source);
        assert!(surface.contains(wanted), "{ty}: {surface}");
    }
}

#[test]
fn types_of_the_language() {
    for (ty, words) in [
        ("string", "text"),
        ("string | undefined", "text"),
        ("string | null", "(text or null)"),
        ("'a' | 'b' | 3 | true", "\"a\" | \"b\" | 3 | true"),
        ("true | false", "boolean"),
        ("-1 | 1", "-1 | 1"),
        ("string | number", "(text or number)"),
        ("'a' | string[]", "(\"a\" or [text])"),
        ("Array<{ x: Date }>", "[{ x: date }]"),
        ("readonly string[]", "[text]"),
        ("ReadonlyArray<number>", "[number]"),
        ("() => string", "function"),
        ("keyof typeof TONES", "\"warm\" | \"cold\""),
        ("(typeof SIZES)[number]", "\"s\" | \"m\""),
        ("keyof Pot", "\"name\" | \"weight\" | \"lid\""),
        ("Partial<Pick<Pot, 'name'>>", "{ name?: text }"),
        ("Omit<Pot, 'name' | 'lid'>", "{ weight: number }"),
        ("Required<Pot>['x']", "?Required<Pot>['x']?"),
        ("Pot & { glaze: string }", "{ name: text, weight: number, lid?: boolean, glaze: text }"),
        ("unknown", "?any?"),
        ("Map<string, number>", "?Map?"),
        ("T extends 1 ? 2 : 3", "2 | 3"),
    ] {
        let source = format!(
            "const TONES = {{ warm: 1, cold: 2 }} as const\nconst SIZES = ['s', 'm'] as const\ninterface Pot {{ name: string; weight: number; lid?: boolean }}\n\
             export function A<T>(p: {{ x: {ty} }}) {{ return <b/> }}"
        );
        let optional = if ty.contains("undefined") { "?" } else { "" };
        assert_eq!(told("A.tsx", &source), format!("A (A)\n  x{optional}: {words}"), "{ty}");
    }
}

#[test]
fn attributes_of_the_page_are_passed_on_and_not_listed() {
    let source = "import type { ButtonHTMLAttributes, ComponentProps } from 'react'\n\
        export interface Props extends ButtonHTMLAttributes<HTMLButtonElement> { tone: 'a' | 'b' }\nexport function A({ tone, ...rest }: Props) { return <button {...rest}/> }";
    assert_eq!(told("A.tsx", source), "A (A)\n  tone: \"a\" | \"b\"\n  and more");
}

#[test]
fn props_may_be_declared_elsewhere() {
    let shelves = Shelves { files: vec![("@/types", "src/types.ts")], ..Shelves::default() };
    let files = MemoryFiles::default()
        .with("src/A.tsx", "import type { Props } from '@/types'\nexport const A = (p: Omit<Props, 'b'> & { c?: number }) => <b/>")
        .with("src/types.ts", "export type Props = { a: string; b: number }");
    assert_eq!(told_among("src/A.tsx", files, &shelves), "A (A)\n  a: text\n  c?: number");
}

#[test]
fn without_types_the_destructured_names_are_all_that_is_known() {
    let source = "export function Card({ title, onClose, children, wide = false }) { return <b/> }";
    assert_told(
        &told("Card.jsx", source),
        r#"
        Card (Card)
          title?: ?any?
          wide?: boolean = false
          on close (onClose)
          slot default
          and more
        "#,
    );
}

#[test]
fn value_and_checked_are_two_way_with_on_change() {
    let told = told(
        "A.tsx",
        "export const A = (p: { value: string; onChange: (v: string) => void; checked?: boolean; onCheckedChange?: (c: boolean) => void }) => <b/>",
    );
    assert_told(
        &told,
        r#"
        A (A)
          value: text two-way
          checked?: boolean two-way
          on value (onChange) reports value
          on checked (onCheckedChange) reports checked
        "#,
    );
}

#[test]
fn what_is_no_component_is_left_alone() {
    for source in [
        "export const a = 1",
        "export function helper() { return 1 }",
        "import { h } from 'vue'\nexport function A() { return h('p') }",
        "import { defineComponent } from 'vue'\nexport function A() { return <p/> }",
        "export const TONES = ['a']",
        "",
    ] {
        assert_eq!(told("A.tsx", source), "", "{source}");
    }
    assert_eq!(told("A.tsx", "export default function A( {"), "A (default)\n  and more", "the loader tells the fault");
}

#[test]
fn a_class_of_the_projects_own_base_is_a_component() {
    let files = MemoryFiles::default()
        .with(
            "src/base.tsx",
            "import * as React from 'react'\nexport abstract class Base<P, S = {}> extends React.PureComponent<P, S> {}\nexport abstract class Near<P> extends Base<P & { id?: string }> {}",
        )
        .with(
            "src/Kid.tsx",
            "import { Near } from './base'\ninterface Props<T> { label: T; onFire?: () => void }\nexport class Kid<T extends string> extends Near<Props<T>> { render() { return <p>{this.props.label}</p> } }\nexport class Other extends Map {}",
        );
    assert_told(
        &told_among("src/Kid.tsx", files, &Shelves::default()),
        r#"
        Kid (Kid)
          label: text
          id?: text
          on fire (onFire)
        "#,
    );
}

#[test]
fn generic_and_polymorphic_props_are_put_in() {
    let told = told(
        "A.tsx",
        "import * as React from 'react'\n\
         type Own<E extends React.ElementType> = { as?: E; tone?: 'ash' | 'shino' | null; never?: never }\n\
         type Poly<E extends React.ElementType, P> = P & Own<E> & Omit<React.ComponentPropsWithoutRef<E>, keyof Own<E>>\n\
         interface Choice<T> { value: T }\n\
         interface Item extends Choice<string> { icon?: string }\n\
         export function A<E extends React.ElementType = 'button', T = string>({ tone }: Poly<E, { items: Item[]; picked?: Item['value'] }>) { return <b/> }",
    );
    assert_told(
        &told,
        r#"
        A (A)
          items: [{ value: text, icon?: text }]
          picked?: text
          as?: "button"
          tone?: ("ash" | "shino" or null)
          and more
        "#,
    );
}

#[test]
fn a_field_that_hands_attributes_on_takes_their_handler() {
    let of = |tag: &str| {
        told(
            "Field.tsx",
            &format!(
                "import * as React from 'react'\n\
                 interface FieldProps extends React.ComponentPropsWithoutRef<'input'> {{ value?: string; label?: string }}\n\
                 export function Field({{ label, ...rest }}: FieldProps) {{ return <label>{{label}}<{tag} {{...rest}} /></label> }}"
            ),
        )
    };
    let field = "\n        Field (Field)\n          value?: text two-way\n          label?: text\n          on value (onChange) reports value\n          and more\n        ";
    assert_told(&of("input"), field);
    assert_told(&of("textarea"), field);
    // What only shows a value is told of no change.
    let shown = "\n        Field (Field)\n          value?: text\n          label?: text\n          and more\n        ";
    assert_told(&of("output"), shown);
    assert_told(&of("input-mask"), shown);
}

#[test]
fn a_list_of_elements_as_children_is_content() {
    let source = "import type { ReactElement } from 'react'\ninterface RackProps { children: ReactElement[]; marks?: ReactElement[] }\nexport function Rack({ children, marks }: RackProps) { return <ul>{children}{marks}</ul> }";
    assert_told(
        &told("Rack.tsx", source),
        "
        Rack (Rack)
          marks?: [node]
          slot default
        ",
    );
    for ty in ["PropTypes.array", "PropTypes.oneOfType([PropTypes.array, PropTypes.element])", "PropTypes.arrayOf(PropTypes.node)"] {
        let source = format!(
            "import PropTypes from 'prop-types'\nfunction Rack({{ children }}) {{ return <ul>{{children}}</ul> }}\nRack.propTypes = {{ children: {ty}.isRequired }}\nexport default Rack"
        );
        assert_eq!(told("Rack.jsx", &source).lines().take(2).collect::<Vec<_>>(), ["Rack (default)", "  slot default"], "{ty}");
    }
}

/// What gives what is shown, and what wants to know the element, tell a parent nothing.
#[test]
fn what_is_called_for_what_it_gives_or_with_an_element_is_no_event() {
    for (name, is) in
        [("onTurn", true), ("onRender", true), ("onRenderItem", false), ("renderItem", false), ("inputRef", false), ("turn", true)]
    {
        let source = format!("export function A({{ {name} }}: {{ {name}: () => void }}) {{ return <p/> }}");
        assert_eq!(told("A.tsx", &source).contains(" on "), is, "{name}");
    }
}
