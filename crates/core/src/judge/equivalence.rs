//! ≡: two observations are the same when a parent or a person can tell no difference. In the normal form: the tree, form
//! values, focus. Not in it: comments, white space between elements, the order of attributes, generated ids, names and marks, attributes
//! that frameworks keep for themselves.

use std::collections::{BTreeMap, BTreeSet};
use std::sync::{Arc, LazyLock};

use fidelon_dom::shown::Shown;
use fidelon_dom::{Document, Element, NodeId, form, serialize, style};
use regex::Regex;

use crate::framework::Framework;
use crate::observation::PhaseSnapshot;

/// Attributes that hold ids of other nodes (ARIA 1.2, HTML).
const REFERENCES: [&str; 12] = [
    "id",
    "for",
    "list",
    "form",
    "headers",
    "aria-labelledby",
    "aria-describedby",
    "aria-controls",
    "aria-owns",
    "aria-activedescendant",
    "aria-details",
    "popovertarget",
];

/// The normal form of what is on the page, as text.
pub fn normal(seen: &PhaseSnapshot) -> Arc<str> {
    let make = || seen.tree.body().map_or_else(String::new, |body| normalised(seen.tree.clone(), body, seen.tree.focused)).into();
    seen.forms.normal.get_or_init(make).clone()
}

/// What leads from one state to the next, or counts what was opened before.
const PASSING: [&str; 4] = ["transition", "animation", "will-change", "z-index"];
/// What a transition leaves when it has come to its end.
const AT_REST: [(&str, &str); 6] =
    [("transform", "none"), ("opacity", "1"), ("height", "auto"), ("width", "auto"), ("max-height", "none"), ("visibility", "visible")];

/// The normal form of what a parent or a person can observe. The laws compare by it: what is not displayed is not there, classes have
/// no order, and a style is what it declares, without what only leads from one state to the next.
pub fn observable(seen: &PhaseSnapshot) -> Arc<str> {
    seen.forms.observable.get_or_init(|| make_observable(seen).into()).clone()
}

fn make_observable(seen: &PhaseSnapshot) -> String {
    let Some(body) = seen.tree.body() else { return String::new() };
    // All is read before anything is written: what a document knows of its styles lasts until it is changed.
    let mut shown = Shown::new(&seen.tree);
    let read = seen.tree.composed_descendants(body).filter_map(|node| {
        let element = seen.tree.element(node)?;
        // What is hidden from everybody while it is shut stands where its next opening begins.
        let is_unseen = |n: NodeId| seen.tree.attr(n, "aria-hidden") == Some("true");
        let unseen = element.attr("style").is_some_and(|style| style.contains("transform"))
            && std::iter::once(node).chain(seen.tree.flat_ancestors(node)).any(is_unseen);
        Some((node, !element.is_html("input") && shown.is_hidden(node), unseen, idle(&seen.tree, node)))
    });
    let read: Vec<(NodeId, bool, bool, Vec<&'static str>)> = read.collect();
    let mut doc = seen.tree.clone();
    for (node, hidden, unseen, idle) in read {
        let Some(element) = doc.element_mut(node) else { continue };
        element.attrs.retain(|a| !idle.contains(&&*a.name));
        if hidden {
            *element = Element::new(element.namespace.clone(), &element.local);
            doc.set_text_content(node, "");
            continue;
        }
        for name in ["class", "part"] {
            if let Some(list) = element.attr(name) {
                let mut words: Vec<&str> = list.split_ascii_whitespace().filter(|word| !OF_A_WAY.is_match(word)).collect();
                words.sort_unstable();
                words.dedup();
                let sorted = words.join(" ");
                set_or_remove(element, name, &sorted);
            }
        }
        if let Some(text) = element.attr("style") {
            let mut declared = style::parse(text);
            declared.retain(|d| {
                !PASSING.iter().any(|p| d.name.starts_with(p))
                    && !AT_REST.contains(&(d.name.as_str(), d.value.as_str()))
                    && !(d.name == "transform" && (unseen || IDENTITY.is_match(&d.value)))
            });
            declared.sort_by(|a, b| a.name.cmp(&b.name));
            // A text that opens a quote takes all that follows it for its own.
            for one in &mut declared {
                one.value.truncate(one.value.trim_end_matches([';', ' ']).len());
            }
            let sorted = style::serialize(&declared);
            set_or_remove(element, "style", &sorted);
        }
    }
    // What an element is given stands in its slots, wherever it is among its children: their order counts within a slot alone.
    for host in seen.tree.composed_descendants(body).filter(|n| seen.tree.shadow_of(*n).is_some()).collect::<Vec<_>>() {
        let mut given: Vec<NodeId> = doc.children(host).collect();
        let in_order = given.clone();
        given.sort_by_key(|node| doc.attr(*node, "slot").unwrap_or_default().to_owned());
        if given != in_order {
            for node in given {
                doc.detach(node);
                doc.append(host, node);
            }
        }
    }
    // A place in the body that something was moved to and is empty again. The first is the component's own.
    for node in seen.tree.children(body).collect::<Vec<_>>().into_iter().rev() {
        if doc.children(body).nth(1).is_some() && is_empty_place(&seen.tree, node) {
            doc.detach(node);
        }
    }
    normalised(doc, body, seen.tree.focused)
}

/// A class that says how far an element has come into the page or out of it: `fade-enter-done`.
static OF_A_WAY: LazyLock<Regex> = LazyLock::new(|| {
    Regex::new(r"-(?:appear|enter|leave|exit)-(?:from|active|to|done|start|end|prepare)$").expect("the pattern is well-formed")
});
/// A transform that moves nothing.
static IDENTITY: LazyLock<Regex> = LazyLock::new(|| {
    let part = r"(?:(?:translate(?:[XYZ]|3d)?|rotate[XYZ]?|skew[XY]?)\(\s*(?:-?0(?:px|%|deg|em|rem)?\s*,?\s*)+\)|scale(?:[XYZ]|3d)?\(\s*(?:1\s*,?\s*)+\))";
    Regex::new(&format!(r"^{part}(?:\s+{part})*$")).expect("the pattern is well-formed")
});

/// Whether an element holds nothing but more of its kind, and takes no room on the page.
fn is_empty_place(doc: &Document, node: NodeId) -> bool {
    let takes_none = |node: NodeId| {
        let Some(element) = doc.element(node) else { return doc.text_content(node).trim().is_empty() };
        let is_plain = |name: &str| matches!(name, "id" | "class" | "aria-live") || name.starts_with("data-");
        let of = |name: &str| doc.computed(node).map_or_else(String::new, |computed| computed.get(name).to_string());
        let is_one_of = |name: &str, values: &[&str]| values.contains(&of(name).as_str());
        (element.is_html("div") || element.is_html("span"))
            && element.shadow.is_none()
            && element.attrs.iter().all(|a| is_plain(&a.name))
            && is_one_of("position", &["static", "relative"])
            && ["height", "min-height"].iter().all(|name| is_one_of(name, &["auto", "0px"]))
            && ["padding-top", "padding-bottom", "border-top-width", "border-bottom-width"].iter().all(|name| of(name) == "0px")
    };
    std::iter::once(node).chain(doc.descendants(node)).all(takes_none)
}

/// Attributes that say nothing where they stand: `tabindex` on what is disabled, an empty `title` where none around it shows through, the empty
/// value of a box to tick.
fn idle(doc: &Document, node: NodeId) -> Vec<&'static str> {
    let mut out = Vec::new();
    if form::is_disabled(doc, node) {
        out.push("tabindex");
    }
    // A value that was taken away from a box to tick is empty or is not there, as its framework has it.
    let is_box = doc.element(node).is_some_and(|e| e.is_html("input") && matches!(e.input_type().as_str(), "checkbox" | "radio"));
    if is_box && doc.attr(node, "value") == Some("") {
        out.push("value");
    }
    let titled = || doc.flat_ancestors(node).any(|a| doc.attr(a, "title").is_some_and(|t| !t.is_empty()));
    if doc.attr(node, "title") == Some("") && !titled() {
        out.push("title");
    }
    out
}

fn set_or_remove(element: &mut Element, name: &str, value: &str) {
    if value.is_empty() {
        element.remove_attr(name);
    } else {
        element.set_attr(name, value);
    }
}

/// The normal form of what is in a node, without the focus.
pub fn markup(doc: &Document, within: NodeId) -> String {
    normalised(doc.clone(), within, None)
}

fn normalised(mut doc: Document, within: NodeId, focus: Option<NodeId>) -> String {
    let mut names: BTreeMap<String, String> = BTreeMap::new();
    let mut marks: BTreeMap<Box<str>, usize> = BTreeMap::new();
    let nodes: Vec<NodeId> = doc.composed_descendants(within).collect();
    let known: BTreeSet<String> = nodes.iter().filter_map(|n| doc.attr(*n, "id").map(str::to_owned)).collect();
    // What a component puts before all of its ids (`k3f-label`, `k3f-menu`) it puts before one that refers to nothing, too.
    let stems: BTreeSet<&str> = known.iter().filter_map(|id| stem(id)).collect();
    for node in nodes {
        let focused = focus == Some(node);
        let Some(element) = doc.element_mut(node) else { continue };
        element.attrs.retain(|a| !Framework::is_mark(&a.name));
        // Ids are counted by where they stand: in which order an element came by its attributes says nothing.
        element.attrs.sort_by(|a, b| a.name.cmp(&b.name));
        for attr in &mut element.attrs {
            if attr.value.is_empty() && is_mark(&attr.name) {
                let next = marks.len() + 1;
                attr.name = format!("mark-{}", marks.entry(attr.name.clone()).or_insert(next)).into();
            }
            // A name that follows from a generated id is one, too: both count up.
            let counted = |name: &String| name.contains(|c: char| c.is_ascii_digit()) && known.contains(name);
            if REFERENCES.contains(&&*attr.name)
                || (&*attr.name == "name" && (is_generated(&attr.value) || counted(&attr.value) || is_drawn(&attr.value)))
            {
                let renamed: Vec<String> = attr
                    .value
                    .split_ascii_whitespace()
                    .map(|id| {
                        // One that counts up (`tabs-3-panel-all`) and refers to nothing says as little as any that a framework makes.
                        let counts_up = || id.contains(|c: char| c.is_ascii_digit()) && id.contains(['-', '_', ':']);
                        if known.contains(id)
                            || is_generated(id)
                            || is_drawn(id)
                            || counts_up()
                            || stem(id).is_some_and(|s| stems.contains(s))
                        {
                            let next = format!("id-{}", names.len() + 1);
                            names.entry(id.to_owned()).or_insert(next).clone()
                        } else {
                            id.to_owned()
                        }
                    })
                    .collect();
                attr.value = renamed.join(" ");
            }
            // `stroke="url(#kiln-3f)"`, `href="#kiln-3f"`: a gradient, a part of a drawing.
            if let Some(renamed) = of_reference(&attr.value, &known, &mut names) {
                attr.value = renamed;
            }
            // A library may write an id of its framework's into a mark of its own.
            if attr.name.starts_with("data-") && GENERATED.is_match(&attr.value) {
                attr.value = GENERATED.replace_all(&attr.value, "id").into_owned();
            }
            if attr.name.starts_with("data-") && is_drawn_whole(&attr.value) {
                let next = format!("id-{}", names.len() + 1);
                attr.value = names.entry(attr.value.clone()).or_insert(next).clone();
            }
            if &*attr.name == "class" {
                let words = attr.value.split_ascii_whitespace().filter(|word| !is_scope(word));
                attr.value = words.collect::<Vec<_>>().join(" ");
            }
        }
        if focused {
            element.set_attr("focused", "");
        }
    }
    serialize::markup(&doc, within)
}

/// A value with the ids of the page that it refers to as an address renamed, where it has any.
fn of_reference(value: &str, known: &BTreeSet<String>, names: &mut BTreeMap<String, String>) -> Option<String> {
    static ADDRESS: LazyLock<Regex> = LazyLock::new(|| {
        Regex::new(r##"^#([\w:.-]+)$|url\((?:&quot;|["'])?#([\w:.-]+)(?:&quot;|["'])?\)"##).expect("the pattern is well-formed")
    });
    if !value.contains('#') {
        return None;
    }
    let renamed = ADDRESS.replace_all(value, |found: &regex::Captures<'_>| {
        let whole = &found[0];
        let Some(id) = found.get(1).or_else(|| found.get(2)).filter(|id| known.contains(id.as_str())) else { return whole.to_owned() };
        let next = format!("id-{}", names.len() + 1);
        whole.replace(id.as_str(), names.entry(id.as_str().to_owned()).or_insert(next))
    });
    (renamed != value).then(|| renamed.into_owned())
}

/// A class by which Svelte scopes styles: `svelte-1ouvewm`. It says nothing, and is another one when the styles are changed.
fn is_scope(class: &str) -> bool {
    class.strip_prefix("svelte-").is_some_and(|hash| hash.len() >= 5 && hash.bytes().all(|b| b.is_ascii_lowercase() || b.is_ascii_digit()))
}

/// What stands before the first sign in an id, if anything does.
fn stem(id: &str) -> Option<&str> {
    id.split_once(['-', '_', ':']).map(|(stem, _)| stem).filter(|stem| !stem.is_empty())
}

/// The same within another text, as React makes them.
static GENERATED: LazyLock<Regex> =
    LazyLock::new(|| Regex::new(r":r[0-9a-z]+:|«r[0-9a-z]+»|\b_[rR]_[0-9a-z]+_").expect("the pattern is well-formed"));

/// Ids as frameworks make them: `:r1:`, `_r_1_`, `«r1»`, `v-0`.
fn is_generated(id: &str) -> bool {
    id.starts_with(':')
        || id.starts_with("_r_")
        || id.starts_with('«')
        || id.strip_prefix("v-").is_some_and(|r| r.starts_with(|c: char| c.is_ascii_digit()))
}

/// A long name of signs that were drawn by chance and of nothing else: `2nU0iHtHDijcGvVmqzmuM`.
fn is_drawn_whole(name: &str) -> bool {
    let count = |of: fn(&u8) -> bool| name.bytes().filter(of).count();
    let has_all = count(u8::is_ascii_digit) > 1 && count(u8::is_ascii_lowercase) > 0 && count(u8::is_ascii_uppercase) > 0;
    let is_long = name.len() > 15 && has_all;
    (is_long || is_mixed(name)) && name.bytes().all(|b| b.is_ascii_alphanumeric() || b == b'-' || b == b'_')
}

/// Whether a name changes between small letters, capitals, digits and signs at every other place, as what is drawn does: `P1eKUhP9LN`. Words do
/// not, whatever is put together of them: `firingLog2b`.
fn is_mixed(name: &str) -> bool {
    let kind = |b: u8| match b {
        b'0'..=b'9' => 1_u8,
        b'a'..=b'z' => 2,
        b'A'..=b'Z' => 4,
        _ => 8,
    };
    let kinds = || name.bytes().fold(0, |kinds, b| kinds | kind(b)).count_ones();
    let turns = || name.as_bytes().windows(2).filter(|pair| kind(pair[0]) != kind(pair[1])).count();
    name.len() > 8 && kinds() > 2 && turns() * 2 >= name.len()
}

/// The same, or a name that ends in such signs: `radio-mkorf98kq`. Words end in numbers, and have none in their midst.
fn is_drawn(name: &str) -> bool {
    if is_drawn_whole(name) {
        return true;
    }
    let last = name.rsplit(['-', '_', ':']).next().unwrap_or_default();
    let plain = last.bytes().all(|b| b.is_ascii_lowercase() || b.is_ascii_digit());
    let digit_in_midst = last.as_bytes().windows(2).any(|pair| pair[0].is_ascii_digit() && pair[1].is_ascii_lowercase());
    last.len() < name.len() && last.len() > 5 && plain && digit_in_midst
}

/// The name of an attribute by which a library finds elements of its own: some letters and a number that counts up, `pc12`.
fn is_mark(name: &str) -> bool {
    let letters = name.bytes().take_while(u8::is_ascii_lowercase).count();
    (1..=3).contains(&letters) && name.len() > letters && name.bytes().skip(letters).all(|b| b.is_ascii_digit())
}

/// A normal form without what may mark the way to a state rather than the state: classes, styles, data attributes, the focus.
pub fn without_marks(observable: &str) -> String {
    static MARKS: LazyLock<Regex> =
        LazyLock::new(|| Regex::new(r#" (?:class|style|focused|data-[\w-]+)="[^"]*""#).expect("the pattern is well-formed"));
    MARKS.replace_all(observable, "").into_owned()
}

/// The first lines in which two texts differ, with a line of context before.
pub fn difference(expected: &str, actual: &str) -> (String, String) {
    let (e, a): (Vec<_>, Vec<_>) = (expected.lines().collect(), actual.lines().collect());
    let same_start = e.iter().zip(&a).take_while(|(x, y)| x == y).count();
    let same_end = e[same_start..].iter().rev().zip(a[same_start..].iter().rev()).take_while(|(x, y)| x == y).count();
    let cut = |lines: &[&str]| {
        let part = &lines[same_start..lines.len() - same_end];
        if part.is_empty() { "(nothing)".to_owned() } else { part.iter().take(6).map(|l| l.trim()).collect::<Vec<_>>().join(" ") }
    };
    (cut(&e), cut(&a))
}

/// Lines that stay around a difference.
const CONTEXT: usize = 2;

/// Two texts line by line: what stays begins with a blank, what is missing with `-`, what is there instead with `+`; `…`
/// stands for what was left out in between.
pub fn diff(expected: &str, actual: &str) -> Vec<String> {
    let diff = similar::TextDiff::from_lines(expected, actual);
    let mut out = Vec::new();
    for (i, group) in diff.grouped_ops(CONTEXT).iter().enumerate() {
        if i > 0 {
            out.push("…".to_owned());
        }
        for change in group.iter().flat_map(|op| diff.iter_changes(op)) {
            out.push(format!("{}{}", change.tag(), change.value().trim_end_matches('\n')));
        }
    }
    out
}

/// The document below the place where a component was mounted: the first element of the body.
pub fn container(doc: &Document) -> Option<NodeId> {
    doc.children(doc.body()?).find(|c| doc.element(*c).is_some())
}

#[cfg(test)]
mod tests {
    use super::*;

    fn seen(html: &str) -> PhaseSnapshot {
        PhaseSnapshot { tree: fidelon_dom::parse::document(html), settled: true, ..PhaseSnapshot::default() }
    }

    #[test]
    fn what_was_drawn_by_chance_is_told_from_words() {
        for drawn in ["P1eKUhP9LN", "WuIci0HQKt", "EY-A32YnAf", "g1KkU2Fxce", "Q7PNvWYpgm", "2nU0iHtHDijcGvVmqzmuM"] {
            assert!(is_drawn_whole(drawn), "{drawn}");
        }
        for word in ["firingLog2b", "kiln-dial-3", "ShelfCard2026", "glazeBadge", "tall-vase", "KilnRegisterV2", "MugBowlVase12"] {
            assert!(!is_drawn_whole(word), "{word}");
        }
    }

    #[test]
    fn what_nobody_can_see_does_not_count() {
        for (a, b, same) in [
            ("<p id=':r1:'>x</p><i aria-describedby=':r1:'></i>", "<p id=':r7:'>x</p><i aria-describedby=':r7:'></i>", true),
            ("<p id=a>x</p><label for=a>", "<p id=b>x</p><label for=b>", true),
            ("<p id=a></p><label for=a>", "<p id=a></p><label for=c>", false),
            ("<p id=a></p><b id=c for=a>", "<p id=a></p><b for=a id=c>", true),
            ("<b id=c for=a></b><p id=a></p>", "<b for=a id=c></b><p id=a></p>", true),
            ("<i aria-describedby=desc-1></i>", "<i aria-describedby=desc-2></i>", true),
            ("<i aria-controls=tabs-1-panel></i>", "<i aria-controls=tabs-84-panel></i>", true),
            ("<i aria-controls=panel></i>", "<i aria-controls=tabs></i>", false),
            ("<p id=desc-1></p><i aria-describedby=desc-1></i>", "<p id=desc-1></p><i aria-describedby=desc-2></i>", false),
            ("<p data-v-12 a=1 b=2> x </p>", "<p b=2 a=1>x</p><!-- c -->", true),
            ("<p>x</p>", "<p>y</p>", false),
            ("<input value=1>", "<input value=2>", false),
            ("<i pc3></i><b pc5 pc3>", "<i pc8></i><b pc9 pc8>", true),
            ("<i pc3></i><b pc3>", "<i pc8></i><b pc9>", false),
            ("<i pc3=1>", "<i pc4=1>", false),
            ("<input id=cl-1 name=cl-1>", "<input id=cl-4 name=cl-4>", true),
            ("<input id=cl-1 name=cl-1>", "<input id=cl-4 name=cl-1>", false),
            ("<input id=mug name=mug>", "<input id=bowl name=bowl>", false),
            ("<input name=radio-mkorf98kq>", "<input name=radio-qfl7mtty7>", true),
            ("<input name=2nU0iHtHDijcGvVmqzmuM>", "<input name=L6vE_B75_h2E-KtIM22Xz>", true),
            ("<input name=kiln-address2>", "<input name=kiln-address3>", false),
            ("<input name=kilnShelf1Temperature>", "<input name=kilnShelf2Temperature>", false),
        ] {
            assert_eq!(normal(&seen(a)) == normal(&seen(b)), same, "{a} / {b}");
        }
    }

    #[test]
    fn laws_compare_what_can_be_observed() {
        for (a, b, same) in [
            ("<p class='a b'>x</p>", "<p class='b  a'>x</p>", true),
            ("<p class=''>x</p>", "<p>x</p>", true),
            ("<p class='kiln fade-appear-done fade-enter-done'>x</p>", "<p class='kiln fade-enter-done'>x</p>", true),
            ("<p class='icon-exit'>x</p>", "<p>x</p>", false),
            ("<p data-part='Button-plain-:r1:'>x</p>", "<p data-part='Button-plain-:r8:'>x</p>", true),
            ("<p data-part='Button-1'>x</p>", "<p data-part='Button-8'>x</p>", false),
            ("<p style='color:red;width:1px'>x</p>", "<p style='width: 1px; color: red'>x</p>", true),
            ("<p style='transition: opacity 1s'>x</p>", "<p style>x</p>", true),
            ("<p style='height: auto; z-index: 2001'>x</p>", "<p style='z-index: 2002'>x</p>", true),
            ("<p style='transform: translateY(0px) scale(1, 1)'>x</p>", "<p>x</p>", true),
            ("<p style='transform: translateY(4px)'>x</p>", "<p>x</p>", false),
            ("<p aria-hidden=true><b style='transform: translateY(-9px)'>x</b></p>", "<p aria-hidden=true><b>x</b></p>", true),
            ("<p>x</p><div class=place><div aria-live=polite class=over></div></div>", "<p>x</p>", true),
            ("<p>x</p><div class=place><div role=status></div></div>", "<p>x</p>", false),
            ("<div></div><div class=place></div>", "<div></div>", true),
            ("<p>x</p><div style='position: fixed; inset: 0'></div>", "<p>x</p>", false),
            ("<p>x</p><style>.over { padding: 4px }</style><div class=over></div>", "<p>x</p><style>.over { padding: 4px }</style>", false),
            ("<p style='color:red'>x</p>", "<p style='color:blue'>x</p>", false),
            ("<p hidden class=a>x</p>", "<p hidden class=b>y</p>", true),
            ("<p hidden>x</p>", "<p>x</p>", false),
            ("<p title=''>x</p>", "<p>x</p>", true),
            ("<div title=a><p title=''>x</p></div>", "<div title=a><p>x</p></div>", false),
            ("<button disabled tabindex=-1>x</button>", "<button disabled>x</button>", true),
            ("<button tabindex=-1>x</button>", "<button>x</button>", false),
            ("<div style='display: none'><b>x</b></div>", "<div hidden></div>", true),
            ("<input type=hidden value=1>", "<input type=hidden value=2>", false),
            ("<input type=checkbox value=''>", "<input type=checkbox>", true),
            ("<input type=checkbox value=a>", "<input type=checkbox>", false),
        ] {
            assert_eq!(observable(&seen(a)) == observable(&seen(b)), same, "{a} / {b}");
        }
    }

    #[test]
    fn a_difference_is_cut_to_what_differs() {
        assert_eq!(difference("<a>\n1\n2\n</a>", "<a>\n1\n3\n</a>"), ("2".into(), "3".into()));
        assert_eq!(diff("a\nb\nc\nd\ne\nf\n", "a\nb\nc\nx\ne\nf\n"), [" b", " c", "-d", "+x", " e", " f"]);
        assert_eq!(difference("<a>\n</a>", "<a>\n1\n</a>"), ("(nothing)".into(), "1".into()));
    }
}
