//! What types come to, row by row: a program, and its type `X` in words.

use std::collections::HashMap;
use std::path::{Path, PathBuf};
use std::sync::Arc;

use fidelon_types::{Checker, Finds, Lazy, Module, Scope, Ty, lower};
use oxc::allocator::Allocator;
use oxc::ast::ast::{Declaration, Statement};
use oxc::parser::Parser;
use oxc::span::SourceType;

/// Files by their names, without endings.
struct Shelf(HashMap<PathBuf, Arc<Module>>);

impl Finds for Shelf {
    fn module(&self, _: &Path, specifier: &str) -> Option<Arc<Module>> {
        self.0.get(Path::new(specifier.trim_start_matches("./"))).cloned()
    }
}

fn shelf(files: &[(&str, &str)]) -> Shelf {
    let parsed = |(name, text): &(&str, &str)| {
        let path = PathBuf::from(name);
        let module = Module::parse(&path, text, SourceType::ts()).unwrap_or_else(|| panic!("{name} can be read"));
        (path, Arc::new(module))
    };
    Shelf(files.iter().map(parsed).collect())
}

/// A type in the words of TypeScript, with what the checker knows by other names in capitals.
fn words(checker: &Checker<'_>, ty: &Ty, depth: usize) -> String {
    let inner = |lazy: &Lazy| words(checker, &checker.force(lazy), depth + 1);
    if depth > 4 {
        return "…".into();
    }
    match ty {
        Ty::Unknown(text) => format!("?{text}"),
        Ty::Any => "any".into(),
        Ty::Never => "never".into(),
        Ty::Undefined => "undefined".into(),
        Ty::Null => "null".into(),
        Ty::String => "string".into(),
        Ty::Number => "number".into(),
        Ty::Boolean => "boolean".into(),
        Ty::Literal(value) => value.to_string(),
        Ty::Content => "CONTENT".into(),
        Ty::Renderer(takes) => format!("RENDERER({takes})"),
        Ty::Component(None) => "COMPONENT".into(),
        Ty::Component(Some(props)) => format!("COMPONENT<{}>", words(checker, props, depth + 1)),
        Ty::Ref(of) => format!("REF<{}>", words(checker, of, depth + 1)),
        Ty::Date => "Date".into(),
        Ty::Instance(name) => format!("={name}"),
        Ty::Page(name) => format!("PAGE {name}"),
        Ty::List(of) => format!("{}[]", inner(of)),
        Ty::Tuple(of) => {
            format!("[{}]", of.iter().map(|(t, o)| format!("{}{}", inner(t), if *o { "?" } else { "" })).collect::<Vec<_>>().join(", "))
        }
        Ty::Function(function) => {
            let (takes, gives) = checker.parts_of(function);
            format!("({}) => {}", takes.iter().map(|(t, _)| inner(t)).collect::<Vec<_>>().join(", "), inner(&gives))
        }
        Ty::Object(object) => {
            let members = object.properties.iter().map(|p| format!("{}{}: {}", p.name, if p.optional { "?" } else { "" }, inner(&p.ty)));
            let index = object.index.iter().map(|i| format!("[]: {}", inner(i)));
            let open = object.open.iter().map(|_| "...".to_owned());
            let calls = object.calls.iter().map(|_| "()".to_owned());
            format!("{{ {} }}", members.chain(index).chain(calls).chain(open).collect::<Vec<_>>().join("; "))
        }
        Ty::Either(of) => of.iter().map(|t| words(checker, t, depth + 1)).collect::<Vec<_>>().join(" | "),
    }
}

/// What `type X` of a program comes to.
fn told(files: &Shelf, source: &str) -> String {
    let allocator = Allocator::default();
    let parsed = Parser::new(&allocator, source, SourceType::ts()).parse();
    assert!(parsed.diagnostics.is_empty(), "{source}: {:?}", parsed.diagnostics);
    let module = Arc::new(Module::of(Path::new("main"), source, &parsed.program));
    let node = parsed.program.body.iter().find_map(|statement| match statement {
        Statement::TSTypeAliasDeclaration(alias) if alias.id.name == "X" => Some(lower::node(&alias.type_annotation)),
        Statement::ExportDeclaration(e) => match &e.declaration {
            Declaration::TSTypeAliasDeclaration(alias) if alias.id.name == "X" => Some(lower::node(&alias.type_annotation)),
            _ => None,
        },
        _ => None,
    });
    let checker = Checker::new(files);
    let ty = checker.check(&node.expect("there is a type X"), &Scope::of(module));
    words(&checker, &ty, 0)
}

fn check(rows: &[(&str, &str)]) {
    let none = shelf(&[]);
    for (source, wanted) in rows {
        assert_eq!(told(&none, source), *wanted, "{source}");
    }
}

#[test]
fn words_literals_lists_and_choices() {
    check(&[
        ("type X = string | undefined", "string | undefined"),
        ("type X = 'C' | 'F' | -1 | true", r#""C" | "F" | -1 | true"#),
        ("type X = true | false", "boolean"),
        ("type X = (string | number)[]", "string | number[]"),
        ("type X = readonly string[]", "string[]"),
        ("type X = [a: string, b?: number]", "[string, number?]"),
        ("type X = [string, ...number[]]", "string | number[]"),
        ("type X = string & {}", "string"),
        ("type X = 'a' | (string & {})", r#""a" | string"#),
        ("type X = string & { __brand: 'id' }", "string"),
        ("type X = ('a' | 'b') & ('b' | 'c')", r#""b""#),
        ("type X = string & number", "never"),
        ("type X = `on${'A' | 'B'}${1 | 2}`", r#""onA1" | "onA2" | "onB1" | "onB2""#),
        ("type X = `${number}px`", "string"),
        ("type X = unique symbol", "=symbol"),
        ("type X = Nowhere", "?Nowhere"),
    ]);
}

#[test]
fn objects_interfaces_and_classes() {
    check(&[
        ("type X = { a: string; b?: number; c(): void; [k: string]: unknown }", "{ a: string; b?: number; c: () => undefined; []: any }"),
        ("interface A { a: 1 } interface A { b: 2 } type X = A", "{ a: 1; b: 2 }"),
        ("interface A<T> { value: T } interface B extends A<string> { icon?: string } type X = B", "{ value: string; icon?: string }"),
        ("interface A<T = number> { value: T } type X = A", "{ value: number }"),
        ("interface A<T extends string> { value: T } type X = A<'x'> | A<'y'>", r#"{ value: "x" } | { value: "y" }"#),
        ("type A<T> = { value: T }; type X = A<A<1>>", "{ value: { value: 1 } }"),
        ("type X = { a: 1 } & { b: 2 } & { a: number }", "{ b: 2; a: 1 }"),
        ("interface A { a: string } type X = Omit<A, never> & Partial<{ b: 1 }>", "{ a: string; b?: 1 }"),
        (
            "class A { a = 1; b?: string; #c = 2; private d = 3; get e(): boolean { return true } } type X = A",
            "{ a: number; b?: string; e: boolean }",
        ),
        ("class A { a = 1 } class B extends A { b = 'x' } type X = B", "{ a: number; b: string }"),
        (
            "interface Tree { name: string; children?: Tree[] } type X = Tree['children']",
            "{ name: string; children?: { name: …; children?: … }[] }[] | undefined",
        ),
        ("interface A extends A { a: 1 } type X = keyof A", r#""a""#),
        ("interface F { (a: string): void } type X = F", "(string) => undefined"),
        ("namespace Kiln { export interface Firing { at: number } export type All = Firing[] } type X = Kiln.All", "{ at: number }[]"),
        ("enum Heat { Low, High = 5, Top } type X = Heat", "0 | 5 | 6"),
        ("const enum Heat { Low = 'low', High = 'high' } type X = Heat.High", r#""high""#),
        ("enum Heat { Low = 'low', High = 'high' } type X = `${Heat}`", r#""low" | "high""#),
        ("enum Heat { Low = 'low' } type X = keyof typeof Heat", r#""Low""#),
    ]);
}

#[test]
fn what_comments_declare() {
    const ITEM: &str = "/**\n * @typedef {object} Piece<Id = number>\n * @property {Id} id\n * @property {string} text\n * @property {boolean} [sold] - it is gone\n */";
    let rows = [
        ("type X = Piece", "{ id: number; text: string; sold?: boolean }"),
        ("type X = Piece<'a'>", r#"{ id: "a"; text: string; sold?: boolean }"#),
        ("/** @template {Piece<string>} [Item=Piece<[1]>] */ type X = Item", "{ id: [1]; text: string; sold?: boolean }"),
        ("/** @template {Piece<string>} Item */ type X = Item['id']", "string"),
        ("/** @template Item */ type X = Item", "?Item"),
    ];
    for (source, wanted) in rows {
        assert_eq!(told(&shelf(&[]), &format!("{ITEM}\n{source}")), wanted, "{source}");
    }
}

#[test]
fn utilities_of_the_language() {
    check(&[
        ("type X = Partial<{ a: 1 }>", "{ a?: 1 }"),
        ("type X = Required<{ a?: 1 }>", "{ a: 1 }"),
        ("type X = Pick<{ a: 1; b: 2 }, 'a'>", "{ a: 1 }"),
        ("type X = Omit<{ a: 1; b: 2 }, 'a' | 'c'>", "{ b: 2 }"),
        ("type X = Record<'a' | 'b', number>", "{ a: number; b: number }"),
        ("type X = Record<string, number>", "{ []: number }"),
        ("type X = Exclude<'a' | 'b' | 1, string>", "1"),
        ("type X = Extract<'a' | 'b' | 1, string>", r#""a" | "b""#),
        ("type X = Extract<{ kind: 'a'; x: 1 } | { kind: 'b' }, { kind: 'a' }>", r#"{ kind: "a"; x: 1 }"#),
        ("type X = NonNullable<string | null | undefined>", "string"),
        ("type X = Parameters<(a: string, b?: number) => void>", "[string, number?]"),
        ("type X = Parameters<(a: { x: 1 }) => void>[0]", "{ x: 1 }"),
        ("type X = ReturnType<() => { a: 1 }>", "{ a: 1 }"),
        ("type X = Capitalize<'a' | 'b'>", r#""A" | "B""#),
        ("type X = Uppercase<'a'> | Uncapitalize<'BC'>", r#""A" | "bC""#),
        ("type X = Array<string> | ReadonlyArray<number>", "string[] | number[]"),
        ("type X = Date | HTMLElement | Map<string, 1>", "Date | =HTMLElement | =Map"),
    ]);
}

#[test]
fn keys_indexes_and_mapped_types() {
    check(&[
        ("type X = keyof { a: 1; b: 2 }", r#""a" | "b""#),
        ("type X = keyof ({ a: 1; b: 2 } | { b: 3 })", r#""b""#),
        ("interface A { size: 'S' | 'L' } type X = A['size']", r#""S" | "L""#),
        ("interface A { a?: 1; b: 2 } type X = A[keyof A]", "1 | undefined | 2"),
        ("type X = string[][number]", "string"),
        ("type X = ['a', 'b'][1]", r#""b""#),
        ("type X = ['a', 'b'][number]", r#""a" | "b""#),
        ("type X = { [K in 'a' | 'b']: K }", r#"{ a: "a"; b: "b" }"#),
        ("type A = { a?: 1; b: 2 }; type X = { [K in keyof A]: A[K] | 'auto' }", r#"{ a?: 1 | undefined | "auto"; b: 2 | "auto" }"#),
        ("type A = { a?: 1 }; type X = { [K in keyof A]-?: string }", "{ a: string }"),
        ("type X = { [K in 'a' | 'b' as `on${Capitalize<K>}`]?: () => void }", "{ onA?: () => undefined; onB?: () => undefined }"),
        ("type A = { a: 1; b: string }; type X = { [K in keyof A as A[K] extends string ? K : never]: A[K] }", "{ b: string }"),
        ("type M<T> = { [K in keyof T]: T[K] }; type X = M<{ a?: 1 }>", "{ a?: 1 | undefined }"),
        ("type M<T, K extends keyof T> = { [P in K]: T[P] }; type X = M<{ a?: 1; b: 2 }, 'a'>", "{ a?: 1 | undefined }"),
        ("type M<T> = { [K in keyof T]: 1 }; type X = M<string[]>", "1[]"),
        // As libraries write it to show a type flat.
        ("type Flat<T> = { [K in keyof T]: T[K] } & {}; type X = Flat<'top' | 'top-start'>", r#""top" | "top-start""#),
        ("type Flat<T> = { [K in keyof T]: T[K] } & {}; type X = Flat<{ a: 1 } | { b: 2 } | null>", "{ a: 1 } | { b: 2 } | null"),
    ]);
}

#[test]
fn conditions_and_what_they_infer() {
    check(&[
        ("type X = 'a' extends string ? 1 : 2", "1"),
        ("type P<T> = T extends string ? 's' : 'n'; type X = P<'a' | 1>", r#""s" | "n""#),
        ("type P<T> = [T] extends [string] ? 's' : 'n'; type X = P<'a' | 1>", r#""n""#),
        ("type E<T> = T extends (infer U)[] ? U : never; type X = E<string[]>", "string"),
        ("type E<T> = T extends { a: infer A; b?: infer B } ? [A, B] : never; type X = E<{ a: 1; b: 2 }>", "[1, 2]"),
        (
            "type F<T> = T extends (first: infer A, ...rest: infer R) => infer G ? [A, R, G] : never; type X = F<(a: 1, b: 2) => 3>",
            "[1, [2], 3]",
        ),
        ("type H<T> = T extends [infer A, ...infer R] ? A : never; type X = H<['a', 'b']>", r#""a""#),
        ("type S<T> = T extends `on${infer N}` ? Uncapitalize<N> : never; type X = S<'onFire' | 'heat'>", r#""fire""#),
        ("type S<T> = T extends `${infer A}-${infer B}` ? [A, B] : never; type X = S<'a-b-c'>", r#"["a", "b-c"]"#),
        ("type Box<T> = { held: T }; type U<T> = T extends Box<infer V> ? V : never; type X = U<{ held: 5 }>", "5"),
        ("interface Box<T> { held: T } type U<T> = T extends Box<infer V> ? V : never; type X = U<Box<'x'>>", r#""x""#),
        ("type N<T> = T extends { a: 1 } ? { yes: T } : {}; type X = N<{ a: 1 }> & { b: 2 }", "{ yes: { a: 1 }; b: 2 }"),
        ("type W<T, U = {}> = Omit<T, keyof U> & U; type X = W<{ a: 1; b: 2 }, { a: string }>", "{ b: 2; a: string }"),
        ("type X = any extends string ? 1 : 2", "1 | 2"),
        ("type D<T> = T extends object ? { [K in keyof T]?: D<T[K]> } : T; type X = D<{ a: { b: 1 } }>", "{ a?: { b?: 1 } }"),
        ("type L<T> = L<T[]>; type X = L<1>", "?L<T[]>"),
    ]);
}

#[test]
fn what_values_are() {
    check(&[
        ("const sizes = ['S', 'L'] as const; type X = (typeof sizes)[number]", r#""S" | "L""#),
        ("const Size = { SMALL: 'small', LARGE: 'large' } as const; type X = (typeof Size)[keyof typeof Size]", r#""small" | "large""#),
        ("const Size = Object.freeze({ SMALL: 'small' } as const); type X = (typeof Size)[keyof typeof Size]", r#""small""#),
        ("const a = { b: { c: 'x' } }; type X = typeof a.b", "{ c: string }"),
        ("const a: { b: 1 } = { b: 1 }; type X = typeof a", "{ b: 1 }"),
        ("const a = { b: 1 } satisfies Record<string, number>; type X = keyof typeof a", r#""b""#),
        (
            "const props = { on: { is: 'flag' }, size: { is: 'one', of: ['S', 'L'] } } satisfies Record<string, { is: 'flag' | 'one'; of?: string[] }>;
             type One<D> = D extends { is: 'flag' } ? boolean : D extends { is: 'one'; of: readonly (infer T)[] } ? T : never;
             type X = { [K in keyof typeof props]?: One<(typeof props)[K]> }",
            r#"{ on?: boolean; size?: "S" | "L" }"#,
        ),
        ("function f(a: string): { b: number } { return { b: 1 } } type X = ReturnType<typeof f>", "{ b: number }"),
        ("const f = () => ({ b: 1 }); type X = ReturnType<typeof f>", "{ b: number }"),
        ("declare function f<T>(value: T): { held: T }; const a = f({ x: 1 }); type X = typeof a", "{ held: { x: number } }"),
        // How variants of styles are commonly declared: the options of a call are the props.
        (
            "type Schema = Record<string, Record<string, string>>;
             type Config<T> = T extends Schema ? { base?: string } & { variants?: T } : { base?: string };
             type Variants<T extends Schema> = { [V in keyof T]?: keyof T[V] | null };
             type Props<T> = T extends Schema ? Variants<T> & { class?: string } : { class?: string };
             declare const style: <T>(base: string, config?: Config<T>) => (props?: Props<T>) => string;
             const button = style('b', { variants: { size: { small: '', large: '' }, loud: { true: '' } } });
             type X = Omit<Exclude<Parameters<typeof button>[0], undefined>, 'class'>",
            r#"{ size?: "small" | "large" | null; loud?: "true" | null }"#,
        ),
    ]);
}

#[test]
fn what_frameworks_call_their_own() {
    let react = "import * as React from 'react'; import type { ReactNode, FC, PropsWithChildren, ComponentProps, ElementType, ComponentPropsWithoutRef } from 'react';";
    let solid = "import type { JSX, Component, ParentProps, ComponentProps, ValidComponent } from 'solid-js';";
    check(&[
        (&format!("{react} type X = ReactNode | React.ReactElement"), "CONTENT"),
        (&format!("{react} type X = PropsWithChildren<{{ a: 1 }}>"), "{ a: 1; children?: CONTENT }"),
        (&format!("{react} const Card: FC<{{ a: 1 }}> = () => null; type X = ComponentProps<typeof Card>"), "{ a: 1 }"),
        (&format!("{react} function Card(props: {{ a: 1 }}) {{ return null }} type X = React.ComponentProps<typeof Card>"), "{ a: 1 }"),
        (
            &format!("{react} const Card = React.forwardRef<HTMLElement, {{ a: 1 }}>((p, r) => null); type X = ComponentProps<typeof Card>"),
            "{ a: 1 }",
        ),
        (&format!("{react} type X = ComponentPropsWithoutRef<'button'> & {{ a: 1 }}"), "{ a: 1; ... }"),
        // A component that is whatever it is told to be: its own props count.
        (
            &format!(
                "{react} type Own<E extends ElementType> = {{ as?: E; size?: 'S' | 'L' }};
                 type Poly<E extends ElementType> = Own<E> & Omit<React.ComponentProps<E>, keyof Own<E>>;
                 type X = Poly<'a'>"
            ),
            r#"{ as?: "a"; size?: "S" | "L"; ... }"#,
        ),
        (
            &format!(
                "{solid} type Merge<S, O = {{}}> = Omit<S, keyof O> & O;
                 type Poly<T extends ValidComponent, P = {{}}> = Merge<ComponentProps<T>, P & {{ as?: T }}>;
                 type Root<T extends ValidComponent = 'div'> = {{ open?: boolean; children?: JSX.Element }};
                 type X = Poly<'div', Root<'div'>>"
            ),
            r#"{ open?: boolean; children?: CONTENT; as?: "div"; ... }"#,
        ),
        (&format!("{solid} type P<T> = T extends Component<infer Q> ? Q : never; type X = P<Component<{{ a: 1 }}>>"), "{ a: 1 }"),
        ("import type { Snippet } from 'svelte'; type X = { a?: Snippet; b: Snippet<[string]> }", "{ a?: RENDERER(false); b: RENDERER(true) }"),
        ("type X = import('svelte').Snippet", "RENDERER(false)"),
        (
            "import type { Snippet } from 'svelte'; type Without<T, U extends keyof any> = Omit<T, U>;
             type WithChild<P = {}, S = never> = Omit<P, 'child' | 'children'> & { child?: [S] extends [never] ? Snippet<[{ props: Record<string, unknown> }]> : Snippet<[S]>; children?: Snippet };
             type X = WithChild<{ open?: boolean }>",
            "{ open?: boolean; child?: RENDERER(true); children?: RENDERER(false) }",
        ),
    ]);
}

#[test]
fn files_beside_and_barrels() {
    let files = shelf(&[
        ("kiln", "export interface Kiln { heat: Heat } type Heat = 'low' | 'high'; export default Kiln"),
        ("glaze", "interface Glaze { name: string } export { Glaze as Coat }; export const glazes = ['ash', 'shino'] as const"),
        ("barrel", "export * from './kiln'; export { Coat, glazes } from './glaze'; export * as all from './glaze'"),
        ("loop", "export * from './loop'"),
    ]);
    for (source, wanted) in [
        ("import { Kiln } from './kiln'; type X = Kiln['heat']", r#""low" | "high""#),
        ("import Kiln from './kiln'; type X = Kiln", r#"{ heat: "low" | "high" }"#),
        ("import { Kiln } from './barrel'; type X = Kiln", r#"{ heat: "low" | "high" }"#),
        ("import type { Coat } from './barrel'; type X = Coat", "{ name: string }"),
        ("import * as b from './barrel'; type X = b.Coat", "{ name: string }"),
        ("import { all } from './barrel'; type X = (typeof all.glazes)[number]", r#""ash" | "shino""#),
        ("import { glazes as g } from './barrel'; type X = (typeof g)[number]", r#""ash" | "shino""#),
        ("type X = import('./kiln').Kiln", r#"{ heat: "low" | "high" }"#),
        ("type X = typeof import('./glaze').glazes", r#"["ash", "shino"]"#),
        ("import { Gone } from './loop'; type X = Gone", "?Gone"),
    ] {
        assert_eq!(told(&files, source), wanted, "{source}");
    }
}

/// Forty files that pass all of each other on: as many ways as there are orders of them, and each is looked through once.
#[test]
fn barrels_that_pass_each_other_on() {
    let names: Vec<String> = (0..40).map(|i| format!("shelf{i}")).collect();
    let text = |i: usize| {
        let all: String = names.iter().map(|name| format!("export * from './{name}';\n")).collect();
        if i == 39 { format!("{all}export interface Mug {{ glaze: string }}") } else { all }
    };
    let texts: Vec<(&str, String)> = names.iter().enumerate().map(|(i, name)| (name.as_str(), text(i))).collect();
    let files = shelf(&texts.iter().map(|(name, text)| (*name, text.as_str())).collect::<Vec<_>>());
    assert_eq!(told(&files, "import { Mug } from './shelf0'; type X = Mug"), "{ glaze: string }");
    assert_eq!(told(&files, "import { Bowl } from './shelf0'; type X = Bowl"), "?Bowl");
}

#[test]
fn values_of_css_are_words_texts_and_numbers() {
    let of = |import: &str, ty: &str| format!("{import}\ntype X = {ty}");
    for (import, ty, wanted) in [
        ("import { Property } from 'csstype'", "Property.Color", "string"),
        ("import type * as CSS from 'csstype'", "CSS.Property.TextAlign", r#""left" | "center" | string"#),
        ("import { Property } from 'csstype'", "Property.Width<string | number>", "string | number"),
        ("import { CSSProperties } from 'react'", "CSSProperties['zIndex']", "string | number"),
        ("import React from 'react'", "React.CSSProperties['display']", r#""block" | "inline-flex" | string"#),
        ("import { CSSProperties } from 'react'", "CSSProperties['borderBottomWidth']", "string | number"),
        ("import { Property } from 'csstype'", "Property.FlexDirection", r#""row" | "column" | string"#),
        ("import { Property } from 'csstype'", "Property.MarginInlineStart<string | number>", "string | number"),
        ("import { CSSProperties } from 'react'", "CSSProperties", "PAGE CSSProperties"),
    ] {
        assert_eq!(told(&shelf(&[]), &of(import, ty)), wanted, "{ty}");
    }
}
