//! Locators: how contracts point at nodes, and how they are found.

use std::collections::HashSet;

use fidelon_dom::{Document, NodeId, Selectors, accessible_name, role, role_of, serialize};
use serde::{Deserialize, Serialize};

/// Where a locator starts, when it does not start at the page.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[serde(tag = "by", content = "name", rename_all = "snake_case")]
pub enum Start {
    /// The content given to a slot.
    Slot(String),
    /// An element that the component exposes; the ref itself under the empty name.
    Ref(String),
    /// What another locator finds.
    Within(Box<Locator>),
    /// The element at this path, see [`Document::path_to`]: for laws, which look for themselves.
    At(Vec<i32>),
}

/// A pointer at nodes: where to start, a selector, then a role with a name, or a text.
#[derive(Debug, Clone, PartialEq, Eq, Default, Serialize, Deserialize)]
pub struct Locator {
    /// As written.
    pub written: String,
    /// Where it starts.
    pub start: Option<Start>,
    /// The CSS selector.
    pub selector: Option<String>,
    /// The ARIA role.
    pub role: Option<String>,
    /// The accessible name.
    pub name: Option<String>,
    /// The exact text of the innermost node.
    pub text: Option<String>,
}

/// Why a locator could not be read, and where in it (in characters).
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct LocatorError {
    /// What is wrong.
    pub message: String,
    /// The offset of the fault.
    pub at: usize,
}

/// Roles of WAI-ARIA that are names of HTML elements too: alone such a word is a selector.
const ROLES_AND_TAGS: [&str; 22] = [
    "article",
    "blockquote",
    "button",
    "caption",
    "code",
    "dialog",
    "figure",
    "form",
    "img",
    "link",
    "main",
    "mark",
    "math",
    "menu",
    "meter",
    "option",
    "search",
    "strong",
    "table",
    "time",
    "image",
    "object",
];

impl Locator {
    /// The plainest locator by which a person would point at an element, where one means it alone: its role and name, its role, a class.
    pub fn as_found(doc: &Document, node: NodeId) -> Option<Self> {
        let named = role_of(doc, node).map(|role| (role, accessible_name(doc, node)));
        let by_name = named.iter().filter(|(_, name)| !name.is_empty()).map(|(role, name)| format!("{role} {name:?}"));
        let by_role = named.iter().map(|(role, _)| format!("role({role})"));
        let by_class = doc.element(node).into_iter().flat_map(|e| e.classes().map(|c| format!(".{c}")).collect::<Vec<_>>());
        let read = by_name.chain(by_role).chain(by_class).filter_map(|written| Self::parse(&written).ok());
        read.into_iter().find(|locator| locator.find_one(doc, Document::ROOT, &[]) == Ok(node))
    }

    /// Reads a locator: `.label`, `button "Raise"`, `role(spinbutton)`, `text("Cone 6")`, `.panel button "Raise"`,
    /// `slot(caption)`, `ref(field)`, `slot(default) button "Buy"`.
    ///
    /// # Errors
    /// [`LocatorError`] says what is wrong.
    pub fn parse(written: &str) -> Result<Self, LocatorError> {
        let text = written.trim();
        let mut out = Self { written: text.into(), ..Self::default() };
        let fail = |message: String, at: usize| Err(LocatorError { message, at });
        if text.is_empty() {
            return fail("a locator is missing".into(), 0);
        }
        if let Some(inner) = call(text, "text") {
            out.text = Some(unquote(inner).unwrap_or(inner).to_owned());
            return Ok(out);
        }
        if let Some((outer, rest)) = split(text) {
            let skipped = text.chars().count() - rest.chars().count();
            let outer = Self::parse(outer)?;
            return match Self::parse(rest) {
                Ok(inner) => Ok(Self { written: out.written, start: Some(Start::Within(Box::new(outer))), ..inner }),
                Err(error) => fail(error.message, skipped + error.at),
            };
        }
        if let Some((start, rest)) = start(text) {
            out.start = Some(start);
            if rest.trim().is_empty() {
                return Ok(out);
            }
            let skipped = text.chars().count() - rest.trim_start().chars().count();
            return match Self::parse(rest) {
                Ok(inner) => Ok(Self { written: out.written, start: out.start, ..inner }),
                Err(error) => fail(error.message, skipped + error.at),
            };
        }
        let mut rest = text;
        if rest.ends_with('"')
            && let Some(open) = rest[..rest.len() - 1].rfind('"')
            && (open == 0 || rest[..open].ends_with(' '))
        {
            let head = rest[..open].trim_end();
            out.name = Some(rest[open + 1..rest.len() - 1].to_owned());
            let (before, word) = head.rsplit_once(' ').map_or(("", head), |(b, w)| (b.trim_end(), w));
            let word = call(word, "role").unwrap_or(word);
            if word.is_empty() {
                return fail("a role is missing before the name: write `button \"Raise\"`".into(), 0);
            }
            if !role::ROLES.contains(&word) {
                let near = nearest(word, role::ROLES.iter().copied());
                let hint = near.map_or(String::new(), |n| format!(" (did you mean `{n}`?)"));
                return fail(format!("`{word}` is no WAI-ARIA role{hint}"), before.chars().count());
            }
            out.role = Some(word.to_owned());
            rest = before;
        } else if let Some(open) = rest.rfind("role(")
            && rest.ends_with(')')
            && (open == 0 || rest[..open].ends_with(' '))
        {
            let word = &rest[open + 5..rest.len() - 1];
            if !role::ROLES.contains(&word) {
                let near = nearest(word, role::ROLES.iter().copied());
                let hint = near.map_or(String::new(), |n| format!(" (did you mean `{n}`?)"));
                return fail(format!("`{word}` is no WAI-ARIA role{hint}"), rest[..open + 5].chars().count());
            }
            out.role = Some(word.to_owned());
            rest = rest[..open].trim_end();
        } else {
            // A word that no element of HTML is called by means the role: `listitem`, `region "Pieces" textbox`.
            let (before, word) = rest.rsplit_once(' ').unwrap_or(("", rest));
            if is_role_alone(word) {
                out.role = Some(word.to_owned());
                rest = before.trim_end();
            }
        }
        if !rest.is_empty() {
            if let Err(error) = Selectors::parse(rest) {
                return fail(error.message, error.column);
            }
            out.selector = Some(rest.to_owned());
        }
        Ok(out)
    }

    /// Points at this very element, and says so in words that a contract could use.
    pub fn at(doc: &Document, node: NodeId) -> Self {
        let start = Some(Start::At(doc.path_to(node)));
        let tag = doc.local_name(node).unwrap_or_default();
        let written = match (role_of(doc, node), accessible_name(doc, node)) {
            (Some(role), name) if !name.is_empty() => format!("{role} {name:?}"),
            (Some(role), _) if role != "generic" => format!("role({role})"),
            _ => tag.to_owned(),
        };
        Self { written, start, ..Self::default() }
    }

    /// All nodes that it finds below `root`, in shadow-including tree order: a selector is held against each tree by itself. `started` are the nodes that its [`Start`] stands for.
    pub fn find(&self, doc: &Document, root: NodeId, started: &[NodeId]) -> Vec<NodeId> {
        if self.start.is_none() {
            return self.find_below(doc, root);
        }
        if let Some(Start::At(path)) = &self.start {
            return doc.at_path(path).into_iter().collect();
        }
        if let Some(Start::Within(outer)) = &self.start {
            let mut found: Vec<NodeId> = outer.find(doc, root, started).iter().flat_map(|n| self.find_below(doc, *n)).collect();
            found.sort_unstable_by_key(|n| doc.composed_descendants(root).position(|d| d == *n));
            found.dedup();
            return found;
        }
        let within = |n: &NodeId| root == Document::ROOT || *n == root || doc.composed_ancestors(*n).any(|a| a == root);
        let mut starts: Vec<NodeId> = Vec::new();
        for node in started.iter().filter(|n| within(n)) {
            if !starts.contains(node) {
                starts.push(*node);
            }
        }
        if self.selector.is_none() && self.role.is_none() && self.text.is_none() {
            return starts;
        }
        // What is given may be itself what is looked for.
        let found = self.find_below(doc, Document::ROOT);
        found.into_iter().filter(|n| starts.iter().any(|s| s == n || doc.composed_ancestors(*n).any(|a| a == *s))).collect()
    }

    fn find_below(&self, doc: &Document, root: NodeId) -> Vec<NodeId> {
        let mut found = self.all_below(doc, root);
        // What a filled slot would show if it were empty is on no page.
        if !doc.shadows().is_empty() {
            found.retain(|n| !doc.is_unused_fallback(*n));
        }
        found
    }

    fn all_below(&self, doc: &Document, root: NodeId) -> Vec<NodeId> {
        if let Some(text) = &self.text {
            return innermost_with_text(doc, root, text);
        }
        let selectors = self.selector.as_ref().and_then(|s| Selectors::parse(s).ok());
        if self.role.is_none() {
            return selectors.map_or_else(Vec::new, |s| below(doc, root).into_iter().filter(|n| s.matches(doc, *n, Some(root))).collect());
        }
        below(doc, root)
            .into_iter()
            .filter(|n| doc.element(*n).is_some() && role_of(doc, *n) == self.role.as_deref())
            .filter(|n| !fidelon_dom::form::is_hidden(doc, *n))
            .filter(|n| self.name.as_ref().is_none_or(|name| accessible_name(doc, *n) == serialize::collapse(name)))
            .filter(|n| {
                // A selector before the role is where to look: the node itself, or around it.
                selectors
                    .as_ref()
                    .is_none_or(|s| std::iter::once(*n).chain(doc.composed_ancestors(*n)).any(|a| s.matches(doc, a, Some(root))))
            })
            .collect()
    }

    /// The one node that it finds.
    ///
    /// # Errors
    /// Says what was there instead, the nearest first.
    pub fn find_one(&self, doc: &Document, root: NodeId, started: &[NodeId]) -> Result<NodeId, String> {
        match self.find(doc, root, started).as_slice() {
            [one] => Ok(*one),
            [] => Err(format!("`{}` finds nothing. {}", self.written, self.instead(doc, root, started))),
            many => Err(format!("`{}` finds {} nodes, and one is needed: {}", self.written, many.len(), list(doc, many))),
        }
    }

    fn instead(&self, doc: &Document, root: NodeId, started: &[NodeId]) -> String {
        if let Some(Start::Within(outer)) = &self.start
            && let Err(message) = outer.find_one(doc, root, started)
        {
            return message;
        }
        match (&self.start, started) {
            (Some(Start::Slot(name)), []) => format!("No element of the content of `{name}` is on the page."),
            (Some(Start::Ref(name)), []) if name.is_empty() => "The ref holds no element.".into(),
            (Some(Start::Ref(name)), []) => format!("The component exposes no element as `{name}`."),
            _ => self.alternatives(doc, root),
        }
    }

    fn alternatives(&self, doc: &Document, root: NodeId) -> String {
        if let Some(role) = &self.role {
            let same: Vec<_> = doc.composed_descendants(root).filter(|n| role_of(doc, *n) == Some(role)).collect();
            if !same.is_empty() {
                return format!("There is: {}", list(doc, &self.nearest_first(doc, same)));
            }
        }
        let interesting: Vec<_> = doc
            .composed_descendants(root)
            .filter(|n| !doc.is_html(*n, "html") && !doc.is_html(*n, "body"))
            .filter(|n| role_of(doc, *n).is_some_and(|r| r != "generic" && r != "none") || doc.attr(*n, "class").is_some())
            .collect();
        if interesting.is_empty() {
            return "Nothing is rendered there.".into();
        }
        format!("There is: {}", list(doc, &self.nearest_first(doc, interesting)))
    }

    /// Those whose name, text or class is most like what was looked for come first; else their order is the tree's.
    fn nearest_first(&self, doc: &Document, mut nodes: Vec<NodeId>) -> Vec<NodeId> {
        let wanted = self.name.as_deref().or(self.text.as_deref()).or(self.selector.as_deref()).unwrap_or_default().to_lowercase();
        if !wanted.is_empty() {
            let like = |n: NodeId| {
                let class = doc.attr(n, "class").unwrap_or_default();
                let words = [accessible_name(doc, n), format!(".{class}"), doc.local_name(n).unwrap_or_default().to_owned()];
                let best = words.iter().map(|w| strsim::normalized_damerau_levenshtein(&wanted, &w.to_lowercase())).fold(0.0, f64::max);
                (best * 100.0) as u32
            };
            nodes.sort_by_cached_key(|n| std::cmp::Reverse(like(*n)));
        }
        nodes
    }
}

/// Whether a word alone means a role: no element of HTML is called by it.
fn is_role_alone(word: &str) -> bool {
    role::ROLES.contains(&word) && !ROLES_AND_TAGS.contains(&word)
}

/// A role in the midst, `region "Pieces" li` or `role(figure) output`: where to look, and what for. Quotes and names in the
/// brackets of a selector are its own.
fn split(text: &str) -> Option<(&str, &str)> {
    let mut depth = 0usize;
    let mut at = 0;
    while let Some(c) = text[at..].chars().next() {
        let rest = &text[at..];
        let word_starts = at == 0 || text[..at].ends_with(' ');
        let end = match c {
            '[' | '(' => {
                depth += 1;
                None
            }
            ']' | ')' => {
                depth = depth.saturating_sub(1);
                None
            }
            '"' if depth == 0 => Some(rest[1..].find('"')? + 2),
            'r' if depth == 0 && word_starts && rest.starts_with("role(") => Some(rest.find(')')? + 1),
            _ if depth == 0 && word_starts => {
                let word = rest.split(' ').next().unwrap_or(rest);
                let after = rest[word.len()..].trim_start();
                (is_role_alone(word) && !after.starts_with(['>', '+', '~', '"'])).then_some(word.len())
            }
            _ => None,
        };
        match end {
            Some(end) => {
                let (before, after) = text.split_at(at + end);
                let after_trimmed = after.trim_start();
                if !after_trimmed.is_empty() && after.starts_with(' ') && !after_trimmed.starts_with('"') {
                    return Some((before, after_trimmed));
                }
                at += end;
            }
            None => at += c.len_utf8(),
        }
    }
    None
}

/// `slot(caption) rest` or `ref(field) rest`.
fn start(text: &str) -> Option<(Start, &str)> {
    let named = |rest: &'static str| text.strip_prefix(rest)?.split_once(')');
    if let Some((name, rest)) = named("slot(") {
        return Some((Start::Slot(name.trim().to_owned()), rest));
    }
    named("ref(").map(|(name, rest)| (Start::Ref(name.trim().to_owned()), rest))
}

fn call<'a>(text: &'a str, name: &str) -> Option<&'a str> {
    text.strip_prefix(name)?.strip_prefix('(')?.strip_suffix(')')
}

fn unquote(text: &str) -> Option<&str> {
    text.strip_prefix('"')?.strip_suffix('"')
}

fn innermost_with_text(doc: &Document, root: NodeId, text: &str) -> Vec<NodeId> {
    let wanted = serialize::collapse(text);
    let has = |n: NodeId| doc.element(n).is_some() && serialize::collapse(&doc.flat_text(n)) == wanted;
    below(doc, root).into_iter().filter(|n| has(*n) && !doc.flat_children(*n).into_iter().any(has)).collect()
}

/// What stands within a node: below it, and what its slots show of a host around it, in shadow-including tree order.
fn below(doc: &Document, root: NodeId) -> Vec<NodeId> {
    let mut out: Vec<NodeId> = doc.composed_descendants(root).collect();
    if doc.shadows().is_empty() {
        return out;
    }
    let own = out.len();
    let mut next = 0;
    while let Some(node) = out.get(next).copied() {
        next += 1;
        for shown in doc.assigned(node).into_iter().filter(|n| !doc.is_composed_ancestor(root, *n)) {
            if !out.contains(&shown) {
                out.push(shown);
                out.extend(doc.composed_descendants(shown));
            }
        }
    }
    if out.len() > own {
        let among: HashSet<NodeId> = out.into_iter().collect();
        return doc.composed_descendants(Document::ROOT).filter(|n| among.contains(n)).collect();
    }
    out
}

/// A node in a few words: `button "Raise"`, `<div class="dial">`.
pub fn describe(doc: &Document, id: NodeId) -> String {
    let Some(element) = doc.element(id) else { return "the page".into() };
    let name = accessible_name(doc, id);
    match role_of(doc, id) {
        Some(role) if role != "generic" && role != "none" && !name.is_empty() => format!("{role} \"{name}\""),
        _ => match (element.attr("id"), element.attr("class")) {
            (Some(i), _) => format!("<{} id=\"{i}\">", element.local),
            (_, Some(c)) => format!("<{} class=\"{c}\">", element.local),
            _ => format!("<{}>", element.local),
        },
    }
}

fn list(doc: &Document, nodes: &[NodeId]) -> String {
    let mut words: Vec<String> = Vec::new();
    for node in nodes {
        let word = describe(doc, *node);
        if !words.contains(&word) {
            words.push(word);
        }
    }
    let more = words.len().saturating_sub(6);
    words.truncate(6);
    format!("{}{}", words.join(", "), if more > 0 { format!(" and {more} more") } else { String::new() })
}

/// The nearest of the known names, if it is near enough to be a slip.
pub fn nearest<'a>(word: &str, known: impl Iterator<Item = &'a str>) -> Option<&'a str> {
    let limit = word.chars().count().max(3) / 3 + 1;
    known
        .map(|k| (strsim::damerau_levenshtein(&word.to_lowercase(), &k.to_lowercase()), k))
        .filter(|(d, _)| *d <= limit)
        .min_by_key(|(d, _)| *d)
        .map(|(_, k)| k)
}

#[cfg(test)]
mod tests {
    use super::*;
    use fidelon_dom::parse;
    use fidelon_dom::shadow::{Shadow, ShadowMode};

    #[test]
    fn a_word_that_is_a_role_and_no_element_means_the_role() {
        for (written, role, selector) in [
            ("listitem", Some("listitem"), None),
            ("button", None, Some("button")),
            (".rack textbox", Some("textbox"), Some(".rack")),
            ("kiln-dial", None, Some("kiln-dial")),
            ("listitem button", None, Some("button")),
        ] {
            let read = Locator::parse(written).expect("well-formed");
            assert_eq!((read.role.as_deref(), read.selector.as_deref()), (role, selector), "{written}");
        }
    }

    #[test]
    fn locators_find() {
        let doc = parse::document(
            "<div class=panel><button>Raise</button><button>Lower</button></div><button class=far>Raise</button>\
             <label>Target <input type=number></label><p><b>Cone 6</b></p>\
             <section><div role=group aria-label=Kiln><span role=button aria-label=Raise></span><span role=button>x</span><i>hot</i></div></section>",
        );
        for (written, count) in [
            (".panel", 1),
            ("button", 3),
            ("button \"Raise\"", 3),
            (".panel button \"Raise\"", 1),
            ("role(spinbutton)", 1),
            ("spinbutton \"Target\"", 1),
            ("text(\"Cone 6\")", 1),
            ("button \"Fire\"", 0),
            ("button.far", 1),
            (".panel role(button)", 2),
            ("role(spinbutton)", 1),
            ("button[class=\"far\"]", 1),
            ("group \"Kiln\" role(button)", 2),
            ("group \"Kiln\" button \"Raise\"", 1),
            ("role(group) i", 1),
            ("section role(group) text(\"hot\")", 1),
        ] {
            let locator = Locator::parse(written).unwrap_or_else(|e| panic!("{written}: {}", e.message));
            assert_eq!(locator.find(&doc, Document::ROOT, &[]).len(), count, "{written}");
        }
        let missing = Locator::parse("button \"Fire\"").expect("reads").find_one(&doc, Document::ROOT, &[]);
        let near = Locator::parse("button \"Lowe\"").expect("reads").find_one(&doc, Document::ROOT, &[]);
        assert_eq!(
            near,
            Err("`button \"Lowe\"` finds nothing. There is: button \"Lower\", button \"Raise\", button \"x\"".into()),
            "the nearest first"
        );
        assert_eq!(missing, Err("`button \"Fire\"` finds nothing. There is: button \"Raise\", button \"Lower\", button \"x\"".into()));
    }

    #[test]
    fn what_slots_show_is_within_what_is_around_them() {
        let mut doc = parse::document("<a-floor><p slot=bisque>Mug</p></a-floor>");
        let mut shade = |host: &str, html: &str| {
            let host = Locator::parse(host).expect("reads").find(&doc, Document::ROOT, &[])[0];
            let root = doc.attach_shadow(Shadow::new(host, ShadowMode::Open)).expect("it has none");
            let parsed = parse::fragment(&mut doc, host, html);
            for node in doc.children(parsed).collect::<Vec<_>>() {
                doc.append(root, node);
            }
        };
        shade("a-floor", "<a-shelf><slot name=bisque></slot></a-shelf><b-shelf></b-shelf>");
        shade("a-shelf", "<section aria-label=Bisque><slot><i>Empty</i></slot></section>");
        shade("b-shelf", "<section aria-label=Glaze><slot><i>Empty</i></slot></section>");
        for (written, count) in [
            ("region \"Bisque\" p", 1),
            ("region \"Bisque\" text(\"Mug\")", 1),
            ("region \"Glaze\" p", 0),
            ("i", 1),
            ("region \"Glaze\" i", 1),
            ("region \"Bisque\" i", 0),
        ] {
            let locator = Locator::parse(written).unwrap_or_else(|e| panic!("{written}: {}", e.message));
            assert_eq!(locator.find(&doc, Document::ROOT, &[]).len(), count, "{written}");
        }
    }

    #[test]
    fn a_locator_may_start_at_a_slot_or_a_ref() {
        let doc = parse::document("<section><p>Mug</p><p>Bowl<button>Buy</button></p></section><input><button>Buy</button>");
        let all = |s: &str| Selectors::parse(s).expect("reads").query_all(&doc, Document::ROOT);
        let (given, field) = (all("p"), all("input"));
        for (written, started, found) in [
            ("slot(default)", &given, 2),
            ("slot( default ) button \"Buy\"", &given, 1),
            ("slot(default) p", &given, 2),
            ("slot(default) text(\"Mug\")", &given, 1),
            ("ref(field)", &field, 1),
            ("ref() role(textbox)", &field, 1),
        ] {
            let locator = Locator::parse(written).unwrap_or_else(|e| panic!("{written}: {}", e.message));
            assert_eq!(locator.find(&doc, Document::ROOT, started).len(), found, "{written}");
        }
        let none = Locator::parse("slot(note)").expect("reads").find_one(&doc, Document::ROOT, &[]);
        assert_eq!(none, Err("`slot(note)` finds nothing. No element of the content of `note` is on the page.".into()));
        let error = Locator::parse("slot(a) buton \"x\"").expect_err("no role");
        assert!(error.message.contains("did you mean `button`") && error.at >= 8, "{error:?}");
    }

    #[test]
    fn bad_locators_say_why() {
        for (written, part) in
            [("buton \"Raise\"", "did you mean `button`"), ("role(spinner)", "no WAI-ARIA role"), ("..x", ""), ("", "missing")]
        {
            let error = Locator::parse(written).expect_err(written);
            assert!(error.message.contains(part), "{written}: {}", error.message);
        }
    }
}
