//! Random programs over the page's interfaces, run in a realm and in a real browser: what they print must be the same.

use anyhow::{Result, anyhow};
use fidelon_browser::{DriverChoice, Page};
use fidelon_core::plan::Chance;
use fidelon_engine::modules::NoModules;
use fidelon_engine::{Limits, Realm};

/// Programs that go to the browser at once.
const BATCH: usize = 200;
/// The page that programs start from.
const PAGE: &str = "data:text/html,<!DOCTYPE html><html><head></head><body></body></html>";
/// Statements of a program.
const LONG: usize = 24;

/// One of a list of words.
fn word<'a>(chance: &mut Chance, words: &'a str) -> &'a str {
    of(chance, &words.split(' ').collect::<Vec<_>>())
}

/// One of a list.
fn of<'a>(chance: &mut Chance, list: &[&'a str]) -> &'a str {
    list[chance.below(list.len())]
}

const TAGS: &str = "div p span b ul li input button form select option textarea label a table tr td template fieldset details summary h2 \
    img section";
const ATTRIBUTES: &str = "id class value checked disabled type name href hidden tabindex title data-kiln style selected for multiple required \
    maxlength readonly placeholder open role aria-label dir lang";
const VALUES: &[&str] = &[
    "''",
    "'a'",
    "'b c'",
    "'1'",
    "'-1'",
    "'true'",
    "'checkbox'",
    "'radio'",
    "'number'",
    "'text'",
    "'color: red'",
    "'/kiln?x=1#y'",
    "'A B'",
    "'  x  '",
    "'rtl'",
    "'05'",
    "'submit'",
];
/// Properties that are only read.
const READABLE: &str = "childElementCount nodeName isConnected length willValidate validationMessage innerText index cells rows";
/// Properties that are read and written.
const SETTABLE: &str = "id className value checked disabled type name hidden tabIndex title htmlFor textContent selected selectedIndex \
    maxLength required readOnly placeholder open multiple defaultValue defaultChecked dir lang indeterminate nodeValue \
    ariaLabel role noValidate method label text";
const SELECTORS: &[&str] = &[
    "'*'",
    "'div'",
    "'p > span'",
    "'.a'",
    "'#a'",
    "'[title]'",
    "'[class~=b]'",
    "'li:first-child'",
    "':not(div)'",
    "'input:checked'",
    "':disabled'",
    "'div p'",
    "'b + b'",
    "'b ~ i'",
    "':empty'",
    "'li:nth-child(2n+1)'",
    "':is(p, b)'",
    "'[data-kiln=\"1\"]'",
    "':root'",
    "'option:checked'",
    "':has(> b)'",
    "'form :enabled'",
    "':last-of-type'",
    "':required'",
    "':focus'",
    "'a:link'",
];
const HTML: &[&str] = &[
    "'<b>x</b>y'",
    "'<p>a<p>b'",
    "'<ul><li>1<li>2</ul>'",
    "'<input value=q><select><option>1<option selected>2</select>'",
    "'<table><tr><td>c</table>'",
    "'&lt;a&amp;'",
    "'<!--c--><i class=\"a b\">z</i>'",
    "'<textarea>\\nt</textarea>'",
    "'<a href=\"/x\">l</a>'",
    "'<form><input name=n type=checkbox checked><button>go</button></form>'",
    "'<template><p>t</p></template>'",
    "'<details open><summary>s</summary>d</details>'",
];
const STYLES: &[&str] = &[
    "'color', 'red'",
    "'color', '#abc'",
    "'margin', '0 auto'",
    "'width', '10px'",
    "'width', '5'",
    "'display', 'none'",
    "'display', 'pottery'",
    "'color', 'no colour'",
    "'width', 'undefined'",
    "'outline-color', '#12'",
    "'text-wrap', 'balance'",
    "'opacity', '.5'",
    "'padding', '1px 2px 3px'",
    "'border', '1px solid red'",
    "'transform', 'translate(0, 10px)'",
    "'flex', '1'",
    "'--x', 'a b'",
    "'z-index', '2'",
    "'background-color', 'rgba(0,0,0,.5)'",
    "'transition', 'all 0.3s ease'",
    "'top', '0'",
    "'overflow', 'hidden'",
];

const SHADOWS: &[&str] = &[
    "'<slot></slot>'",
    "'<b>in</b><slot name=top>none</slot><slot></slot>'",
    "'<style>:host { display: block; color: green } ::slotted(b) { opacity: 0.5 }</style><p><slot></slot></p>'",
    "'<input><button>x</button><slot name=a></slot>'",
    "'<x-shelf><slot></slot></x-shelf>'",
];
const RULES: &[&str] = &[
    "'b { color: red } .a { display: none } #a { opacity: 0.5 }'",
    "'@media (min-width: 10px) { div { z-index: 3 } } p { font-size: 2em } p b { font-weight: bolder }'",
    "'div { --tone: #c60; color: var(--tone) } span { color: var(--none, blue); margin: 1px 2px }'",
    "'@layer a, b; @layer b { i { color: lime } } @layer a { i { color: red; opacity: 0 !important } }'",
    "'.a { & b { visibility: hidden } > i { float: left } } li { position: absolute }'",
    "'* { cursor: pointer } input:disabled { opacity: 0.2 } :is(p, b):not(.a) { text-align: right; letter-spacing: 0.1em }'",
];
const COMPUTED: &str = "display,visibility color,opacity fontSize,fontWeight zIndex,position float,display cursor,textAlign letterSpacing,color \
    marginTop,marginLeft fontStyle,textDecorationLine whiteSpace,listStyleType overflow,boxSizing";

/// One statement over shadow trees, custom elements and stylesheets.
fn styled(chance: &mut Chance, a: &str, b: &str) -> String {
    match chance.below(12) {
        0 => format!(
            "{{ const r = {a}.attachShadow({{ mode: '{}', delegatesFocus: {} }}); r.innerHTML = {}; add(r); add(r.firstChild) }}",
            of(chance, &["open", "open", "closed"]),
            of(chance, &["false", "true"]),
            of(chance, SHADOWS),
        ),
        1 => format!("add({a}.shadowRoot); log({a}.shadowRoot?.innerHTML, name({a}.assignedSlot), name({a}.getRootNode()))"),
        2 => format!(
            "{{ const s = {a}.querySelector?.('slot') ?? {a}; log((s.assignedNodes?.({}) ?? []).map(name).join()) }}",
            of(chance, &["", "{ flatten: true }"])
        ),
        3 => format!("{a}.{} = '{}'", of(chance, &["slot", "name"]), of(chance, &["", "top", "a"])),
        4 | 5 => format!("add(document.createElement('{}'))", of(chance, &["x-kiln", "x-shelf"])),
        6 => format!(
            "{{ const s = document.createElement('style'); s.textContent = {}; ({a} ?? root).append(s); add(s) }}",
            of(chance, RULES)
        ),
        7..=9 => format!(
            "if ({a}.isConnected && {a}.nodeType === 1) log({})",
            word(chance, COMPUTED).split(',').map(|p| format!("getComputedStyle({a}).{p}")).collect::<Vec<_>>().join(", ")
        ),
        10 => format!(
            "{{ const s = [...document.styleSheets].at(-1); if (s) {{ {}; log(s.cssRules.length, [...s.cssRules].map((r) => r.cssText).join(' ')) }} }}",
            of(
                chance,
                &[
                    "s.insertRule('b { color: blue }', 0)",
                    "s.deleteRule(0)",
                    "s.cssRules[0].style.opacity = '0.4'",
                    "s.disabled = true",
                    "s.cssRules[0].selectorText = 'i, b'"
                ]
            )
        ),
        _ => format!(
            "{a}.addEventListener('kiln', (e) => log(name(e.target), name(e.currentTarget), e.eventPhase, e.composedPath().length)); {b}.dispatchEvent(new Event('kiln', {{ bubbles: {}, composed: {} }}))",
            of(chance, &["true", "false"]),
            of(chance, &["true", "false"]),
        ),
    }
}

/// One statement; nodes are `n[i]`, a detached or attached mix that grows.
#[allow(clippy::too_many_lines, reason = "one line for each kind of statement")]
fn statement(chance: &mut Chance) -> String {
    let node = |c: &mut Chance| format!("at({})", c.below(40));
    let (a, b, c) = (node(chance), node(chance), node(chance));
    match chance.below(56) {
        0..=3 => format!("add(document.createElement('{}'))", word(chance, TAGS)),
        4 => format!("add(document.createTextNode({}))", of(chance, VALUES)),
        5 => format!("add(document.createComment({}))", of(chance, VALUES)),
        6 => "add(document.createDocumentFragment())".into(),
        7..=10 => format!("{a}.appendChild({b})"),
        11 => format!("{a}.insertBefore({b}, {a}.firstChild)"),
        12 => format!("{a}.insertBefore({b}, {c})"),
        13 => format!("{a}.removeChild({a}.lastChild)"),
        14 => format!("{a}.replaceChild({b}, {a}.firstChild)"),
        15 => format!("{a}.{}({b}, 't')", of(chance, &["before", "after", "append", "prepend", "replaceWith", "replaceChildren"])),
        16 => format!("{a}.remove()"),
        17..=19 => format!("{a}.setAttribute('{}', {})", word(chance, ATTRIBUTES), of(chance, VALUES)),
        // A `style` that was set through the object is written late in Chromium: taken away before, it comes back empty.
        20 => format!("{a}.getAttribute?.('style'); {a}.removeAttribute('{}')", word(chance, ATTRIBUTES)),
        21 => format!("log({a}.toggleAttribute('{}'))", word(chance, ATTRIBUTES)),
        22 => format!("log({a}.getAttribute('{}'), {a}.attributes.length)", word(chance, ATTRIBUTES)),
        23..=25 => format!("log({a}.{})", {
            let words = if chance.below(2) == 0 { READABLE } else { SETTABLE };
            word(chance, words)
        }),
        26 | 27 => format!(
            "{a}.{} = {}",
            word(chance, SETTABLE),
            of(chance, &["''", "'a'", "1", "0", "-1", "true", "false", "null", "'x y'", "'checkbox'", "'2'"])
        ),
        28 => format!("{a}.innerHTML = {}", of(chance, HTML)),
        29 => format!("add({a}.firstChild)"),
        30 => format!(
            "log({a}.classList.{}, {a}.className)",
            of(chance, &["add('a', 'c')", "toggle('b')", "remove('a')", "contains('b')", "replace('a', 'z')", "length"])
        ),
        31 => format!(
            "log({a}.querySelectorAll({}).length, document.querySelectorAll({}).length)",
            of(chance, SELECTORS),
            of(chance, SELECTORS)
        ),
        32 => format!("log({a}.matches({}), name({a}.closest({})))", of(chance, SELECTORS), of(chance, SELECTORS)),
        33 => format!("log({a}.contains({b}), order({a}, {b}), {a}.isEqualNode({b}))"),
        34 => format!("add({a}.cloneNode({}))", of(chance, &["true", "false"])),
        35 => format!("{a}.normalize(); log({a}.childNodes.length, name({a}.nextSibling), name({a}.previousElementSibling))"),
        36 => format!(
            "{a}.addEventListener('{}', (e) => log(e.type, name(e.target), name(e.currentTarget), e.eventPhase, e.defaultPrevented){}, {})",
            of(chance, &["click", "kiln", "input", "change", "submit", "focus", "focusin", "toggle"]),
            of(chance, &["", " || e.preventDefault()", " || e.stopPropagation()"]),
            of(chance, &["true", "false", "{ once: true }"]),
        ),
        37 => format!("log({a}.dispatchEvent(new Event('kiln', {{ bubbles: {}, cancelable: true }})))", of(chance, &["true", "false"])),
        38 => format!("{a}.click()"),
        39 => format!("{a}.focus(); log(name(document.activeElement))"),
        40 => format!("{a}.style.setProperty({}); log({a}.style.cssText)", of(chance, STYLES)),
        41 => format!(
            "{{ const r = document.createRange(); r.setStart({a}, 0); r.setEnd({b}, {b}.childNodes.length); log(r.toString(), r.collapsed, name(r.commonAncestorContainer)); {} }}",
            of(
                chance,
                &[
                    "r.deleteContents()",
                    "add(r.cloneContents())",
                    "add(r.extractContents())",
                    "r.insertNode(document.createElement('i'))",
                    "r.collapse(true)"
                ]
            ),
        ),
        42 => format!(
            "{{ const m = new MutationObserver(() => {{}}); m.observe({a}, {{ childList: true, attributes: true, subtree: {}, characterData: true }}); {a}.append('m'); {a}.setAttribute?.('title', 'm'); log(m.takeRecords().map((r) => r.type + r.addedNodes.length + r.attributeName).join()) }}",
            of(chance, &["true", "false"]),
        ),
        43..=54 => styled(chance, &a, &b),
        _ => format!(
            "log({a}.checkValidity?.(), {a}.validity?.valid, {a}.form?.length, {a}.elements?.length, {a}.options?.length, {a}.isConnected && {a}.labels?.length)"
        ),
    }
}

fn program(seed: u64) -> Vec<String> {
    let mut chance = Chance::new(seed.wrapping_mul(0x2545_f491_4f6c_dd1d));
    // Something to work on.
    let mut out: Vec<String> = (0..4).map(|_| format!("add(document.createElement('{}'))", word(&mut chance, TAGS))).collect();
    out.push("root.appendChild(at(1)); root.appendChild(at(2))".into());
    let count = 4 + chance.below(LONG);
    out.extend((0..count).map(|_| statement(&mut chance)));
    out
}

/// Custom elements that tell of their reactions; a page keeps what was defined once.
const CUSTOM: &str = "globalThis.reacted = () => {}; if (!customElements.get('x-kiln')) { \
    customElements.define('x-kiln', class extends HTMLElement { static observedAttributes = ['id', 'title', 'hidden']; constructor() { super(); reacted('new'); } \
    connectedCallback() { reacted('in', this.parentNode?.nodeName); } disconnectedCallback() { reacted('out', this.isConnected); } \
    attributeChangedCallback(n, o, v) { reacted(n, o, v); } }); \
    customElements.define('x-shelf', class extends HTMLElement { static formAssociated = true; constructor() { super(); this.i = this.attachInternals(); this.attachShadow({ mode: 'open' }).innerHTML = '<h2><slot name=top>shelf</slot></h2><slot></slot>'; } \
    formAssociatedCallback(f) { reacted('form', f?.nodeName); } formDisabledCallback(d) { reacted('disabled', d); } }); }";

/// A program as an expression that gives what it printed.
fn expression(statements: &[String]) -> String {
    let body: String = statements.iter().map(|s| format!("try {{ {s} }} catch (e) {{ log('threw', e.name) }}\n")).collect();
    format!(
        "(() => {{ 'use strict'; document.body.replaceChildren(); {CUSTOM} document.activeElement?.blur?.(); const out = []; const log = (...a) => {{ out.push(a.map(String).join(' ')) }};\n\
         globalThis.reacted = (...a) => log('reacted', ...a);\n\
         const root = document.body.appendChild(document.createElement('main')); const n = [root]; const at = (i) => n[i % n.length]; const add = (x) => {{ if (x) n.push(x) }}; const name = (x) => (x ? x.nodeName : String(x));\n\
         const order = (a, b) => {{ const o = a.compareDocumentPosition(b); return o & 1 ? 'apart' : o }};\n\
         const dump = (x) => (x.nodeType !== 1 ? x.nodeName + ' ' + (x.nodeValue ?? '') : '<' + [x.localName, ...[...x.attributes].map((a) => a.name + '=' + a.value).sort()].join(' ') + '>' + [...x.childNodes].map(dump).join('') + '</>');\n\
         {body}return out.join('\\n') + '\\n' + dump(document.body) }})()"
    )
}

/// Both places where programs run.
struct Places {
    realm: Realm,
    page: Page,
}

impl Places {
    fn here(&mut self, statements: &[String]) -> String {
        if self.realm.is_broken() {
            self.realm = realm().unwrap_or_else(|_| unreachable!("it could be made before"));
        }
        self.realm.eval(&expression(statements)).unwrap_or_else(|e| format!("the engine: {e}"))
    }

    fn there(&self, programs: &[Vec<String>]) -> Result<Vec<String>> {
        // Links and forms of the programs before may have led the page elsewhere.
        self.page.go(PAGE).map_err(|e| anyhow!(e))?;
        let all: Vec<String> = programs.iter().map(|p| expression(p)).collect();
        let script = "return arguments[0].map((program) => { try { return (0, eval)(program) } catch (e) { return 'the page: ' + e } })";
        let given = self.page.run(script, vec![serde_json::json!(all)]).map_err(|e| anyhow!(e))?;
        serde_json::from_value(given).map_err(Into::into)
    }

    fn differ(&mut self, statements: &[String]) -> Result<Option<(String, String)>> {
        let there = self.there(&[statements.to_vec()])?.remove(0);
        let here = self.here(statements);
        Ok((here != there).then_some((here, there)))
    }

    /// The fewest statements that still differ.
    fn shrink(&mut self, mut statements: Vec<String>) -> Result<Vec<String>> {
        let mut size = statements.len() / 2;
        while size > 0 {
            let mut start = 0;
            while start < statements.len() {
                let fewer = [&statements[..start], &statements[(start + size).min(statements.len())..]].concat();
                if self.differ(&fewer)?.is_some() {
                    statements = fewer;
                } else {
                    start += size;
                }
            }
            size /= 2;
        }
        Ok(statements)
    }
}

fn realm() -> Result<Realm> {
    Realm::new(Limits::default(), Box::new(NoModules)).map_err(|e| anyhow!("{e}"))
}

/// Runs so many programs and prints the first ones that differ, as short as they can be.
pub fn run(programs: u64, seed: u64, most: usize) -> Result<()> {
    let mut places = Places { realm: realm()?, page: Page::open(&DriverChoice::Found).map_err(|e| anyhow!("{e}"))? };
    let (mut differing, mut shown) = (0_u64, 0);
    for first in (seed..seed + programs).step_by(BATCH) {
        let all: Vec<Vec<String>> = (first..(first + BATCH as u64).min(seed + programs)).map(program).collect();
        let there = places.there(&all)?;
        // Nodes of earlier programs would pile up.
        places.realm = realm()?;
        for ((statements, there), number) in all.into_iter().zip(there).zip(first..) {
            if places.here(&statements) == there {
                continue;
            }
            differing += 1;
            if shown == most {
                continue;
            }
            shown += 1;
            let least = places.shrink(statements)?;
            let (here, there) = places.differ(&least)?.unwrap_or_default();
            println!(
                "program {number} differs:\n  {}\nembedded:\n  {}\nbrowser:\n  {}\n",
                least.join("\n  "),
                here.replace('\n', "\n  "),
                there.replace('\n', "\n  ")
            );
        }
    }
    println!("fuzz: {differing} of {programs} programs differ (from seed {seed})");
    Ok(())
}
