//! Computed values (CSS Cascade §4.4, CSS Values 4), as `getComputedStyle` gives them where no layout is needed.

use std::borrow::Cow;
use std::collections::BTreeMap;
use std::sync::Arc;

use super::absolute::{Base, px, split, value_of};
use super::sheet::{Declared, is_wide, longhands};
use super::{Applied, Registered, place_of, properties};
use crate::tree::{Document, NodeId};

/// The values of custom properties by name: most elements have those of their parent.
type Customs = Arc<BTreeMap<Arc<str>, Arc<str>>>;

/// What the properties of an element come to.
#[derive(Debug, Clone, PartialEq)]
pub struct Computed {
    /// By the place of the property in the table; none where it is the initial value.
    values: Vec<Option<Arc<str>>>,
    /// Custom properties, with `var()` replaced.
    custom: Customs,
    font_size: f64,
    root_font_size: f64,
}

impl Computed {
    /// A property's value; of a shorthand the values of its parts; empty where there is no such property.
    pub fn get(&self, name: &str) -> String {
        if name.starts_with("--") {
            return self.custom.get(name).map_or(String::new(), |v| v.to_string());
        }
        let name = self.physical(fidelon_css::property(name));
        if name == "text-decoration" {
            return self.decoration();
        }
        if let Some(place) = place_of(&name) {
            return self.at(place);
        }
        self.shorthand(&name)
    }

    /// A property's value where it is not the initial one.
    pub fn given(&self, name: &str) -> Option<&str> {
        self.values[place_of(name)?].as_deref()
    }

    fn at(&self, place: usize) -> String {
        let initial = properties()[place].initial;
        let value = self.values[place].as_deref().unwrap_or(initial);
        if value == "currentcolor" {
            return self.values[place_of("color").unwrap_or(0)].as_deref().unwrap_or("rgb(0, 0, 0)").to_owned();
        }
        value.to_owned()
    }

    /// The value of a property of the table.
    fn of(&self, name: &str) -> &str {
        let place = place_of(name).expect("in the table");
        self.values[place].as_deref().unwrap_or(properties()[place].initial)
    }

    fn shorthand(&self, name: &str) -> String {
        let sides = |pattern: &str| ["top", "right", "bottom", "left"].map(|side| self.get(&pattern.replace('*', side)));
        let four = |values: [String; 4]| {
            let refs: Vec<&str> = values.iter().map(String::as_str).collect();
            crate::style::joined(&refs)
        };
        let two = |a: &str, b: &str| {
            let (a, b) = (self.get(a), self.get(b));
            if a == b { a } else { format!("{a} {b}") }
        };
        match name {
            "margin" | "padding" => four(sides(&format!("{name}-*"))),
            "inset" => four(sides("*")),
            "border-width" | "border-style" | "border-color" => four(sides(&format!("border-*-{}", &name[7..]))),
            "border-top" | "border-right" | "border-bottom" | "border-left" | "outline" => {
                ["width", "style", "color"].map(|part| self.get(&format!("{name}-{part}"))).join(" ")
            }
            "border" => {
                let each = ["border-top", "border-right", "border-bottom", "border-left"].map(|side| self.shorthand(side));
                if each.iter().all(|e| *e == each[0]) { each[0].clone() } else { String::new() }
            }
            "border-radius" => {
                let corners = ["top-left", "top-right", "bottom-right", "bottom-left"];
                four(corners.map(|c| self.get(&format!("border-{c}-radius"))))
            }
            "overflow" => two("overflow-x", "overflow-y"),
            "gap" => two("row-gap", "column-gap"),
            "flex-flow" => format!("{} {}", self.get("flex-direction"), self.get("flex-wrap")),
            "flex" => format!("{} {} {}", self.get("flex-grow"), self.get("flex-shrink"), self.get("flex-basis")),
            "place-items" => two("align-items", "justify-items"),
            "place-content" => two("align-content", "justify-content"),
            "place-self" => two("align-self", "justify-self"),
            "list-style" => ["position", "image", "type"].map(|p| self.get(&format!("list-style-{p}"))).join(" "),
            "white-space" => match (&*self.get("white-space-collapse"), &*self.get("text-wrap-mode")) {
                ("collapse", "nowrap") => "nowrap".into(),
                ("preserve", "nowrap") => "pre".into(),
                ("preserve", _) => "pre-wrap".into(),
                ("preserve-breaks", _) => "pre-line".into(),
                ("break-spaces", _) => "break-spaces".into(),
                _ => "normal".into(),
            },
            "text-wrap" => self.get("text-wrap-mode"),
            "transition" => self.lists(&["property", "duration", "timing-function", "delay"], "transition", &["all", "0s", "ease", "0s"]),
            _ => String::new(),
        }
    }

    /// `text-decoration` without what is initial.
    fn decoration(&self) -> String {
        let part = |p: &str| self.get(&format!("text-decoration-{p}"));
        let (line, style, colour, thickness) = (part("line"), part("style"), part("color"), part("thickness"));
        let mut out = vec![line];
        out.extend((thickness != "auto").then_some(thickness));
        out.extend((style != "solid").then_some(style));
        out.extend((colour != self.get("color")).then_some(colour));
        out.join(" ")
    }

    /// Lists that belong together, item by item, without what is initial.
    fn lists(&self, parts: &[&str], of: &str, initial: &[&str]) -> String {
        let lists: Vec<Vec<String>> =
            parts.iter().map(|p| split(&self.get(&format!("{of}-{p}")), ',').into_iter().map(str::to_owned).collect()).collect();
        let items = (0..lists.first().map_or(0, Vec::len)).map(|i| {
            let all: Vec<&str> = lists.iter().map(|l| l[i % l.len().max(1)].as_str()).collect();
            // A delay needs the duration before it.
            let delayed = all.get(3).is_some_and(|d| *d != "0s");
            let words: Vec<&str> =
                all.iter().zip(initial).enumerate().filter(|(j, (a, b))| a != b || (delayed && *j == 1)).map(|(_, (a, _))| *a).collect();
            if words.is_empty() { initial[0].to_owned() } else { words.join(" ") }
        });
        items.collect::<Vec<_>>().join(", ")
    }

    /// The physical property that a flow-relative one is here (CSS Logical §2): horizontal text, in its direction.
    pub fn physical<'a>(&self, name: &'a str) -> Cow<'a, str> {
        let rtl = place_of("direction").and_then(|p| self.values[p].as_deref()) == Some("rtl");
        physical(name, rtl)
    }
}

fn physical(name: &str, rtl: bool) -> Cow<'_, str> {
    let (start, end) = if rtl { ("right", "left") } else { ("left", "right") };
    match name {
        "inline-size" | "block-size" | "min-inline-size" | "min-block-size" | "max-inline-size" | "max-block-size" => {
            return name.replace("inline-size", "width").replace("block-size", "height").into();
        }
        "overflow-inline" => return "overflow-x".into(),
        "overflow-block" => return "overflow-y".into(),
        "border-start-start-radius" => return format!("border-top-{start}-radius").into(),
        "border-start-end-radius" => return format!("border-top-{end}-radius").into(),
        "border-end-start-radius" => return format!("border-bottom-{start}-radius").into(),
        "border-end-end-radius" => return format!("border-bottom-{end}-radius").into(),
        _ => {}
    }
    if !name.contains("inline-") && !name.contains("block-") {
        return name.into();
    }
    let sided = name.replace("inline-start", start).replace("inline-end", end).replace("block-start", "top").replace("block-end", "bottom");
    match sided.strip_prefix("inset-") {
        Some(side) => side.to_owned().into(),
        None => sided.into(),
    }
}

/// The direction of an element as markup gives it (HTML §3.2.6.4), as far as it is not found in its text.
pub(super) fn dir_of(doc: &Document, id: NodeId) -> Option<&str> {
    std::iter::once(id).chain(doc.flat_ancestors(id)).find_map(|n| doc.attr(n, "dir").filter(|d| ["ltr", "rtl"].contains(d)))
}

/// Works out an element's values from what applies to it, what counts least first.
pub(super) fn compute(doc: &Document, id: NodeId, parent: Option<&Computed>, applied: &[Applied]) -> Computed {
    let count = properties().len();
    let inherited = |p: &Computed| p.values.iter().zip(properties()).map(|(v, of)| v.clone().filter(|_| of.inherited)).collect();
    let mut out = Computed {
        values: parent.map_or_else(|| vec![None; count], inherited),
        custom: parent.map(|p| p.custom.clone()).unwrap_or_default(),
        font_size: parent.map_or(16.0, |p| p.font_size),
        root_font_size: parent.map_or(16.0, |p| p.root_font_size),
    };
    custom_properties(&mut out, parent, applied, doc.registered());
    // What wins for each property, and what the user agent alone would say: `revert` goes back to that.
    let mut winners: Vec<Option<(u8, Arc<str>)>> = vec![None; count];
    let mut agent: Vec<Option<Arc<str>>> = vec![None; count];
    let dir = dir_of(doc, id);
    let rtl = dir == Some("rtl");
    for (weight, declared) in applied.iter().filter(|(_, d)| !d.name.starts_with("--")) {
        spelled_out(declared, &out.custom, &mut |name, value| {
            let mut set = |place: usize| {
                winners[place] = Some((weight.origin, value.clone()));
                if weight.origin == 0 {
                    agent[place] = Some(value.clone());
                }
            };
            if name == "all" {
                (0..count).filter(|p| !["direction", "unicode-bidi"].contains(&properties()[*p].name)).for_each(&mut set);
            } else if let Some(place) = place_of(&physical(name, rtl)) {
                set(place);
            }
        });
    }
    if let Some(dir) = dir
        && let Some(place) = place_of("direction").filter(|p| winners[*p].is_none())
    {
        winners[place] = Some((0, dir.into()));
    }
    let is_root = parent.is_none();
    // The size of the font first, then the colour: others are relative to them.
    let first = ["font-size", "color"].map(|n| place_of(n).expect("in the table"));
    let order = first.into_iter().chain((0..count).filter(|p| !first.contains(p)));
    for place in order {
        let Some((origin, value)) = winners[place].take() else { continue };
        let property = &properties()[place];
        let from_parent = || parent.and_then(|p| p.values[place].clone());
        let mut value = value;
        if ["revert", "revert-layer"].iter().any(|w| value.eq_ignore_ascii_case(w)) {
            value = agent[place].clone().filter(|_| origin > 0).unwrap_or_else(|| "unset".into());
        }
        let word = value.to_ascii_lowercase();
        out.values[place] = match word.as_str() {
            "inherit" => from_parent(),
            // CSS Color §14.1: of `color` itself it is the colour around.
            "currentcolor" if property.name == "color" => from_parent(),
            "unset" if property.inherited => from_parent(),
            "unset" | "initial" => None,
            _ => {
                let em = if property.name == "font-size" { parent.map_or(16.0, |p| p.font_size) } else { out.font_size };
                let base = Base {
                    font_size: em,
                    root_font_size: if is_root { out.font_size } else { out.root_font_size },
                    viewport: doc.viewport(),
                };
                value_of(property.name, &value, &base, parent).map(Arc::from)
            }
        };
        if property.name == "font-size" {
            out.font_size = out.values[place].as_deref().and_then(px).unwrap_or(16.0);
            if is_root {
                out.root_font_size = out.font_size;
            }
        }
    }
    afterwards(doc, id, parent, &mut out);
    out
}

/// Custom properties (CSS Variables §2): inherited, with `var()` in them replaced; what refers to itself is not set.
fn custom_properties(out: &mut Computed, parent: Option<&Computed>, applied: &[Applied], registered: &BTreeMap<Arc<str>, Registered>) {
    let is_custom = |d: &Declared| d.name.starts_with("--");
    if registered.is_empty() && !applied.iter().any(|(_, d)| is_custom(d)) {
        return;
    }
    let own = Arc::make_mut(&mut out.custom);
    for (name, known) in registered {
        if !known.inherits {
            own.remove(name);
        }
        if let Some(initial) = known.initial.as_ref().filter(|_| !own.contains_key(name)) {
            own.insert(name.clone(), initial.clone());
        }
    }
    let mut written: BTreeMap<&str, &str> = BTreeMap::new();
    for (_, declared) in applied.iter().filter(|(_, d)| is_custom(d)) {
        written.insert(&declared.name, &declared.value);
    }
    let inherited = own.clone();
    let mut under = Written { written: &written, inherited: &inherited, registered, done: BTreeMap::new() };
    for (name, value) in &written {
        let word = value.trim().to_ascii_lowercase();
        let is_own = registered.get(*name).is_some_and(|r| !r.inherits);
        match word.as_str() {
            "unset" | "revert" | "revert-layer" | "initial" if is_own || word == "initial" => {
                match registered.get(*name).and_then(|r| r.initial.clone()) {
                    Some(initial) => drop(own.insert((*name).into(), initial)),
                    None => drop(own.remove(*name)),
                }
            }
            "inherit" | "unset" | "revert" | "revert-layer" => match parent.and_then(|p| p.custom.get(*name)) {
                Some(value) => drop(own.insert((*name).into(), value.clone())),
                None => drop(own.remove(*name)),
            },
            _ => match under.get(name, 0) {
                Some(value) => drop(own.insert((*name).into(), value.trim().into())),
                None => drop(own.remove(*name)),
            },
        }
    }
}

/// Custom properties of one element while they are worked out: each once, however often it is used.
struct Written<'a> {
    written: &'a BTreeMap<&'a str, &'a str>,
    inherited: &'a BTreeMap<Arc<str>, Arc<str>>,
    registered: &'a BTreeMap<Arc<str>, Registered>,
    /// Those that are done; none while one is under way, so that what leads to itself is none.
    done: BTreeMap<String, Option<String>>,
}

impl Written<'_> {
    /// A custom property with all others in it.
    fn get(&mut self, name: &str, depth: usize) -> Option<String> {
        if let Some(done) = self.done.get(name) {
            return done.clone();
        }
        let inherited = || self.inherited.get(name).map(|v| v.to_string());
        let text = match self.written.get(name) {
            None => return inherited(),
            Some(text) if text.trim().eq_ignore_ascii_case("initial") => {
                return self.registered.get(name).and_then(|r| r.initial.as_ref()).map(|v| v.to_string());
            }
            Some(text) if is_wide(text.trim()) => return inherited(),
            Some(text) => text,
        };
        self.done.insert(name.to_owned(), None);
        let out = substituted(text, depth, &mut |n| self.get(n, depth + 1));
        self.done.insert(name.to_owned(), out.clone());
        out
    }
}

/// The longest that a value may grow by `var()`, and how deep they may stand in one another: browsers have limits too.
const MOST: usize = 1 << 16;
const DEEPEST: usize = 64;

/// A value with `var()` replaced (CSS Variables §3); none where one is missing and has no fallback.
fn substituted(text: &str, depth: usize, of: &mut dyn FnMut(&str) -> Option<String>) -> Option<String> {
    if depth > DEEPEST {
        return None;
    }
    let mut out = String::new();
    let mut rest = text;
    while let Some(at) = find_var(rest) {
        let inner_from = at + 4;
        let mut open = 1;
        let end = rest[inner_from..].char_indices().find_map(|(i, c)| {
            match c {
                '(' => open += 1,
                ')' => open -= 1,
                _ => {}
            }
            (open == 0).then_some(inner_from + i)
        })?;
        let inner = &rest[inner_from..end];
        let (name, fallback) = inner.split_once(',').map_or((inner, None), |(n, f)| (n, Some(f)));
        out.push_str(&rest[..at]);
        match of(name.trim()) {
            Some(value) => out.push_str(&value),
            None => out.push_str(&substituted(fallback?.trim(), depth + 1, of)?),
        }
        if out.len() > MOST {
            return None;
        }
        rest = &rest[end + 1..];
    }
    out.push_str(rest);
    (out.len() <= MOST || text.len() > MOST).then_some(out)
}

fn find_var(text: &str) -> Option<usize> {
    let is_word = |c: char| c.is_alphanumeric() || c == '-' || c == '_';
    text.match_indices("var(").map(|(at, _)| at).find(|at| !text[..*at].chars().next_back().is_some_and(is_word))
}

/// A declaration as longhands, now that custom properties are known. What comes to no value counts as `unset`.
fn spelled_out(declared: &Declared, custom: &BTreeMap<Arc<str>, Arc<str>>, to: &mut dyn FnMut(&str, &Arc<str>)) {
    if find_var(&declared.value).is_none() {
        return to(&declared.name, &declared.value);
    }
    let value = substituted(&declared.value, 0, &mut |name| custom.get(name).map(|v| v.to_string()));
    let parts = value.as_ref().and_then(|v| longhands(&declared.name, v.trim(), declared.important));
    match parts {
        Some(parts) if !parts.is_empty() => parts.iter().for_each(|d| to(&d.name, &d.value)),
        _ => {
            let unset = Arc::from("unset");
            match lightningcss::properties::PropertyId::from(&*declared.name).longhands() {
                Some(names) => names.iter().for_each(|n| to(n.name(), &unset)),
                None => to(&declared.name, &unset),
            }
        }
    }
}

/// What follows from other values of the element.
fn afterwards(doc: &Document, id: NodeId, parent: Option<&Computed>, out: &mut Computed) {
    const BORDERS: [(&str, &str); 4] = [
        ("border-top-style", "border-top-width"),
        ("border-right-style", "border-right-width"),
        ("border-bottom-style", "border-bottom-width"),
        ("border-left-style", "border-left-width"),
    ];
    for (style, width) in BORDERS {
        // CSS Backgrounds §3.3: a border without a style has no width.
        let place = place_of(width).expect("in the table");
        if matches!(out.of(style), "none" | "hidden") {
            out.values[place] = None;
        } else if out.values[place].is_none() {
            out.values[place] = Some("3px".into());
        }
    }
    let display = out.of("display").to_owned();
    let is_absolute = matches!(out.of("position"), "absolute" | "fixed");
    let outside = is_absolute || out.of("float") != "none";
    let item = parent.is_some_and(|p| {
        let around = p.of("display");
        around.ends_with("flex") || around.ends_with("grid")
    });
    let is_root = doc.node(id).parent == Some(Document::ROOT);
    if (outside || item || is_root) && display != "none" {
        let place = place_of("display").expect("in the table");
        out.values[place] = Some(blockified(&display).into());
    }
    if is_absolute {
        // CSS Position §3.1: what is positioned so does not float.
        out.values[place_of("float").expect("in the table")] = None;
    }
    // CSS Overflow §3.1: one axis visible beside another that is not computes to auto.
    let free = |v: &str| v == "visible" || v == "clip";
    let (x, y) = (out.of("overflow-x"), out.of("overflow-y"));
    let follows = |own: &str, other: &str| (free(own) && !free(other)).then(|| if own == "visible" { "auto" } else { "hidden" });
    for (name, value) in [("overflow-x", follows(x, y)), ("overflow-y", follows(y, x))] {
        if let Some(value) = value {
            out.values[place_of(name).expect("in the table")] = Some(value.into());
        }
    }
}

/// CSS Display §2.7.
fn blockified(display: &str) -> &str {
    match display {
        "inline" | "inline-block" | "contents" if display != "contents" => "block",
        "inline-flex" => "flex",
        "inline-grid" => "grid",
        "inline-table" => "table",
        "table-row" | "table-cell" | "table-row-group" | "table-header-group" | "table-footer-group" | "table-column"
        | "table-column-group" | "table-caption" => "block",
        other => other,
    }
}
