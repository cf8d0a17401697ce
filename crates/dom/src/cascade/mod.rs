//! Which declarations count for an element, and what its properties come to (CSS Cascade 5).
//!
//! | module | subject |
//! |---|---|
//! | [`sheet`] | stylesheets as rules, read by `lightningcss` |
//! | [`media`] | media queries |
//! | `scope` | the rules of one tree, filed so that few are tried for an element |
//! | `showing` | whether an element shows |
//! | [`computed`] | which value each property gets: `var()`, inheritance, what follows from other values |
//! | `hints` | what attributes say of how an element looks (HTML §15) |
//! | `memo` | values that were worked out before |
//! | `absolute` | from written values to absolute ones: units, `calc()`, colours, transforms |
//! | `html.css` | how HTML looks by default (HTML §15.3) |
//! | `properties.txt` | the properties with their initial values |
//!
//! Boxes are not known here: what only a layout tells (`width` in pixels, percentages) stays as it was written.

mod absolute;
mod animated;
pub mod computed;
mod hints;
pub mod media;
mod memo;
mod scope;
pub mod sheet;
mod showing;

use std::cell::RefCell;
use std::collections::BTreeMap;
use std::sync::Arc;
use std::sync::OnceLock;

use rustc_hash::FxHashMap;

pub use animated::{Animated, Restyled};
pub use computed::Computed;
pub use media::{Media, Viewport};
use scope::{Entry, Scope, by_default, parsed};
use sheet::{Declared, Rule};
use showing::Showing;

use crate::selector::selects;
use crate::tree::{Document, NodeData, NodeId};

/// A property of the table: its name, its initial value, whether it is inherited.
#[derive(Debug)]
pub(crate) struct Property {
    pub(crate) name: &'static str,
    pub(crate) initial: &'static str,
    pub(crate) inherited: bool,
}

/// The properties in alphabetical order of the table.
pub(crate) fn properties() -> &'static [Property] {
    static TABLE: OnceLock<Vec<Property>> = OnceLock::new();
    TABLE.get_or_init(|| {
        let lines = include_str!("properties.txt").lines().filter(|l| !l.starts_with('#'));
        let mut parts = lines.map(|l| l.split(" | "));
        let of = |p: &mut std::str::Split<'static, &str>| {
            Some(Property { name: p.next()?, initial: p.next()?, inherited: p.next() == Some("*") })
        };
        std::iter::from_fn(|| parts.next()).filter_map(|mut p| of(&mut p)).collect()
    })
}

/// The place of a property in the table.
pub(crate) fn place_of(name: &str) -> Option<usize> {
    static PLACES: OnceLock<FxHashMap<&'static str, usize>> = OnceLock::new();
    PLACES.get_or_init(|| properties().iter().enumerate().map(|(i, p)| (p.name, i)).collect()).get(name).copied()
}

/// Whether there is such a property.
pub fn is_property(name: &str) -> bool {
    place_of(name).is_some()
}

/// The names of all properties, as a computed style lists them.
pub fn property_names() -> impl Iterator<Item = &'static str> {
    properties().iter().map(|p| p.name)
}

/// The number of a stylesheet in its document.
pub type SheetId = usize;

#[derive(Debug, Clone, Default)]
struct Sheet {
    /// Another number whenever its rules were read anew: lists of rules that scripts hold are of the old ones then.
    turn: u64,
    rules: Rules,
    disabled: bool,
    /// Of a `<style>`: the texts that the rules were read from.
    source: Option<Texts>,
}

/// The texts of a `<style>`. Whoever holds them keeps them from being changed where they are: they are the same as long as they lie in
/// the same place.
type Texts = Vec<Arc<String>>;

/// The rules of one text, shared by all that has it.
type Rules = Arc<Vec<Arc<Rule>>>;

/// A custom property that was registered (CSS Properties and Values API §1.1): its initial value, and whether it is inherited.
#[derive(Debug, Clone)]
pub(crate) struct Registered {
    pub(crate) initial: Option<Arc<str>>,
    pub(crate) inherits: bool,
}

/// The stylesheets of a document and of its shadow trees.
#[derive(Debug, Clone, Default)]
pub struct Styles {
    sheets: Vec<Sheet>,
    of_element: BTreeMap<NodeId, SheetId>,
    adopted: BTreeMap<NodeId, Vec<SheetId>>,
    /// What was read of `<style>` elements last.
    read: RefCell<FxHashMap<NodeId, (Texts, Rules)>>,
    /// Of a snapshot: the rules of its trees, and of its `<style>` elements, that no text of the tree tells.
    told: BTreeMap<NodeId, Vec<SheetText>>,
    viewport: Viewport,
    /// Custom properties that scripts registered.
    registered: BTreeMap<Arc<str>, Registered>,
    /// What animations say of elements now, and where transitions start.
    animations: animated::Animations,
    /// Changes with every change that scripts make to sheets.
    turns: u64,
    known: RefCell<Known>,
}

/// The rules of a sheet that no text of a tree tells.
#[derive(Debug, Clone)]
pub enum SheetText {
    /// As they were read.
    Rules(Arc<Vec<Arc<Rule>>>),
    /// As they are written.
    Text(Arc<String>),
}

impl SheetText {
    /// What tells them from others as long as they are held.
    pub fn address(&self) -> usize {
        match self {
            Self::Rules(rules) => Arc::as_ptr(rules).addr(),
            Self::Text(text) => Arc::as_ptr(text).addr(),
        }
    }

    /// How they are written.
    pub fn text(&self) -> Arc<String> {
        match self {
            Self::Rules(rules) => Arc::new(rules.iter().map(|r| r.text.as_str()).collect::<Vec<_>>().join("\n")),
            Self::Text(text) => text.clone(),
        }
    }
}

/// Stylesheets are no part of what makes two documents equal: what they come to is.
impl PartialEq for Styles {
    fn eq(&self, _: &Self) -> bool {
        true
    }
}
impl Eq for Styles {}

/// What was found out since the document last changed.
#[derive(Debug, Clone, Default)]
struct Known {
    version: (u64, u64),
    scopes: FxHashMap<NodeId, Arc<Scope>>,
    computed: FxHashMap<NodeId, Arc<Computed>>,
    /// What authors say of the display and the visibility of an element.
    authored: FxHashMap<NodeId, Showing>,
    /// Whether any tree has rules at all.
    styled: Option<bool>,
}

/// Where a declaration comes from: what is later wins (CSS Cascade §6.1).
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
struct Weight {
    /// 0: the user agent's; 1: the author's, and animations; 2: the author's important; 3: the user agent's important; 4: transitions.
    origin: u8,
    /// Trees: for what is not important, those further in count less; for what is, more.
    tree: i32,
    /// Whether it stands in the element's own `style` attribute.
    inline: bool,
    layer: u32,
    specificity: u32,
    order: u32,
}

/// A declaration that applies, with its weight.
type Applied = (Weight, Declared);

impl Document {
    /// Sets the size of the window.
    pub fn set_viewport(&mut self, width: f64, height: f64) {
        self.styles.viewport = Viewport { width, height };
        self.styles.turns += 1;
    }

    /// Registers a custom property (CSS Properties and Values API §4, `CSS.registerProperty`).
    pub fn register_property(&mut self, name: &str, initial: Option<&str>, inherits: bool) {
        self.styles.registered.insert(name.into(), Registered { initial: initial.map(Arc::from), inherits });
        self.styles.turns += 1;
    }

    /// Takes the registration of a custom property back.
    pub fn forget_property(&mut self, name: &str) {
        self.styles.registered.remove(name);
        self.styles.turns += 1;
    }

    pub(crate) fn registered(&self) -> &BTreeMap<Arc<str>, Registered> {
        &self.styles.registered
    }

    /// Changes with everything that may change how the document looks.
    pub fn turn(&self) -> (u64, u64) {
        (self.changes(), self.styles.turns)
    }

    /// The size of the window.
    pub fn viewport(&self) -> Viewport {
        self.styles.viewport
    }

    /// A sheet of a script's own.
    pub fn new_sheet(&mut self) -> SheetId {
        self.styles.sheets.push(Sheet::default());
        self.styles.sheets.len() - 1
    }

    /// The sheet of a `<style>`, read anew where its text is another than before.
    pub fn sheet_of(&mut self, style: NodeId) -> SheetId {
        let id = match self.styles.of_element.get(&style) {
            Some(id) => *id,
            None => {
                let id = self.new_sheet();
                self.styles.of_element.insert(style, id);
                id
            }
        };
        if !self.styles.sheets[id].source.as_ref().is_some_and(|source| self.says(style, source)) {
            self.styles.turns += 1;
            let turn = self.styles.turns;
            let rules = self.read(style);
            let source = Some(self.style_texts(style).cloned().collect());
            self.styles.sheets[id] = Sheet { turn, rules, source, ..self.styles.sheets[id].clone() };
        }
        id
    }

    /// The children of a `<style>` changed: its sheet is made anew, whatever scripts did to it (HTML §4.2.6).
    pub(crate) fn forget_sheet(&mut self, parent: NodeId) {
        if let Some(sheet) = self.styles.of_element.get(&parent) {
            self.styles.sheets[*sheet] = Sheet::default();
        }
    }

    /// So is the sheet of a `<style>` that is put elsewhere.
    pub(crate) fn forget_sheets_in(&mut self, node: NodeId) {
        if self.styles.of_element.is_empty() {
            return;
        }
        let moved: Vec<NodeId> = self.styles.of_element.keys().copied().filter(|s| self.is_composed_ancestor(node, *s)).collect();
        moved.into_iter().for_each(|style| self.forget_sheet(style));
    }

    /// The texts of a `<style>`: of its own children alone.
    fn style_texts(&self, style: NodeId) -> impl Iterator<Item = &Arc<String>> {
        self.children(style).filter_map(|c| match &self.node(c).data {
            NodeData::Text(text) => Some(text),
            _ => None,
        })
    }

    /// Whether the texts of a `<style>` are still these.
    fn says(&self, style: NodeId, texts: &Texts) -> bool {
        let mut now = self.style_texts(style);
        texts.iter().all(|text| now.next().is_some_and(|now| Arc::ptr_eq(now, text))) && now.next().is_none()
    }

    /// What the text of a `<style>` comes to, read once for each text.
    fn read(&self, style: NodeId) -> Rules {
        if let Some((_, rules)) = self.styles.read.borrow().get(&style).filter(|(texts, _)| self.says(style, texts)) {
            return rules.clone();
        }
        let texts: Texts = self.style_texts(style).cloned().collect();
        let rules = match texts.as_slice() {
            [one] => parsed(one),
            several => parsed(&several.iter().map(|t| t.as_str()).collect::<String>()),
        };
        self.styles.read.borrow_mut().insert(style, (texts, rules.clone()));
        rules
    }

    /// Lets go of what was read of `<style>` elements that are on the page no more.
    pub fn forget_gone_sheets(&mut self) {
        let mut read = std::mem::take(self.styles.read.get_mut());
        read.retain(|style, _| self.is_connected(*style));
        *self.styles.read.get_mut() = read;
    }

    /// What was read of the `<style>` elements of a snapshot need not be read again of it. `numbers` are those of its nodes here.
    pub(crate) fn keep_read(&self, numbers: &[NodeId], out: &mut Self) {
        let read = self.styles.read.borrow();
        if read.is_empty() {
            return;
        }
        let known =
            numbers.iter().enumerate().filter_map(|(at, number)| Some((NodeId(u32::try_from(at).ok()?), read.get(number)?.clone())));
        out.styles.read.borrow_mut().extend(known);
    }

    /// The rules of a sheet.
    pub fn sheet_rules(&self, sheet: SheetId) -> &[Arc<Rule>] {
        self.styles.sheets.get(sheet).map_or(&[], |s| &s.rules)
    }

    /// A number that is another one once all rules of a sheet were read anew.
    pub fn sheet_turn(&self, sheet: SheetId) -> u64 {
        self.styles.sheets.get(sheet).map_or(0, |s| s.turn)
    }

    /// Replaces all rules.
    pub fn replace_sheet(&mut self, sheet: SheetId, text: &str) {
        self.styles.turns += 1;
        let turn = self.styles.turns;
        if let Some(sheet) = self.styles.sheets.get_mut(sheet) {
            sheet.turn = turn;
            sheet.rules = parsed(text);
        }
    }

    /// Inserts a rule (CSSOM §6.4 "insert a CSS rule").
    ///
    /// # Errors
    /// The name of the exception: `SyntaxError`, `IndexSizeError`.
    pub fn insert_rule(&mut self, sheet: SheetId, text: &str, at: usize) -> Result<(), &'static str> {
        self.styles.turns += 1;
        let Some(sheet) = self.styles.sheets.get_mut(sheet) else { return Err("IndexSizeError") };
        if at > sheet.rules.len() {
            return Err("IndexSizeError");
        }
        let rules = parsed(text);
        let [rule] = rules.as_slice() else { return Err("SyntaxError") };
        Arc::make_mut(&mut sheet.rules).insert(at, rule.clone());
        Ok(())
    }

    /// Takes a rule out.
    ///
    /// # Errors
    /// `IndexSizeError` where there is none.
    pub fn delete_rule(&mut self, sheet: SheetId, at: usize) -> Result<(), &'static str> {
        self.styles.turns += 1;
        let rules = self.styles.sheets.get_mut(sheet).map(|s| &mut s.rules).filter(|r| at < r.len()).ok_or("IndexSizeError")?;
        Arc::make_mut(rules).remove(at);
        Ok(())
    }

    /// Gives a style rule another selector and other declarations; the rules in it stay. Gives its text.
    pub fn change_rule(&mut self, sheet: SheetId, at: usize, head: &str, body: &str) -> String {
        self.styles.turns += 1;
        let rules = self.styles.sheets.get_mut(sheet).map(|s| &mut s.rules).filter(|r| at < r.len());
        let Some(rules) = rules else { return String::new() };
        let text = sheet::style_text(head, body, &rules[at].inner);
        if let Some(rule) = parsed(&text).first() {
            Arc::make_mut(rules)[at] = rule.clone();
        }
        text
    }

    /// Switches a sheet off or on.
    pub fn disable_sheet(&mut self, sheet: SheetId, disabled: bool) {
        self.styles.turns += 1;
        if let Some(sheet) = self.styles.sheets.get_mut(sheet) {
            sheet.disabled = disabled;
        }
    }

    /// Gives a tree, by its root, the sheets that scripts adopted for it.
    pub fn adopt_sheets(&mut self, root: NodeId, sheets: Vec<SheetId>) {
        self.styles.turns += 1;
        if sheets.is_empty() {
            self.styles.adopted.remove(&root);
        } else {
            self.styles.adopted.insert(root, sheets);
        }
    }

    /// The rules that only scripts gave: those that were adopted for a tree, and those of `<style>` elements without a text. Snapshots
    /// take them along, by their own numbers.
    pub(crate) fn keep_told_rules(&self, numbers: &[NodeId], out: &mut Self) {
        let rules = |sheet: &SheetId| self.styles.sheets.get(*sheet).filter(|s| !s.disabled).map(|s| SheetText::Rules(s.rules.clone()));
        let adopted = self.styles.adopted.iter().map(|(root, sheets)| (*root, sheets.iter().filter_map(rules).collect()));
        let bare = self.styles.of_element.iter().filter(|(id, _)| self.style_texts(**id).all(|t| t.trim().is_empty()));
        let own = bare.filter_map(|(id, sheet)| Some((*id, vec![rules(sheet)?])));
        for (id, rules) in adopted.chain(own) {
            if let Some(at) = numbers.iter().position(|n| *n == id) {
                out.styles.told.insert(NodeId(at as u32), rules);
            }
        }
    }

    /// The text of the rules that a snapshot knows of a tree, by its root, or of a `<style>` element, beside what the tree itself says.
    pub fn told_rules(&self, id: NodeId) -> String {
        let sheets: Vec<Arc<String>> = self.styles.told.get(&id).into_iter().flatten().map(SheetText::text).collect();
        sheets.iter().map(|s| s.as_str()).filter(|s| !s.is_empty()).collect::<Vec<_>>().join("\n")
    }

    /// What a snapshot knows of its trees and `<style>` elements beside what they say: no serialised form holds it.
    pub fn sheet_texts(&self) -> impl Iterator<Item = (NodeId, &[SheetText])> {
        self.styles.told.iter().map(|(id, sheets)| (*id, sheets.as_slice()))
    }

    /// Gives a snapshot that came from elsewhere what [`Document::sheet_texts`] was there.
    pub fn set_sheet_texts(&mut self, id: NodeId, sheets: Vec<SheetText>) {
        self.styles.told.insert(id, sheets);
    }

    /// What the properties of an element come to; none where it stands in no flat tree of the document.
    pub fn computed(&self, id: NodeId) -> Option<Arc<Computed>> {
        if self.element(id).is_none() || !self.is_flat(id) {
            return None;
        }
        self.refresh();
        if let Some(known) = self.styles.known.borrow().computed.get(&id) {
            return Some(known.clone());
        }
        // From the outside in, so that no depth of nesting is a depth of calls.
        let mut chain: Vec<NodeId> = std::iter::once(id).chain(self.flat_ancestors(id)).filter(|n| self.element(*n).is_some()).collect();
        chain.reverse();
        let mut parent: Option<Arc<Computed>> = None;
        for node in chain {
            let known = self.styles.known.borrow().computed.get(&node).cloned();
            let computed = known.unwrap_or_else(|| {
                let computed = memo::computed(self, node, parent.as_ref(), self.applied(node));
                self.styles.known.borrow_mut().computed.insert(node, computed.clone());
                computed
            });
            parent = Some(computed);
        }
        parent
    }

    /// Forgets what was found out where the document has changed since.
    fn refresh(&self) {
        let version = (self.changes(), self.styles.turns);
        let mut known = self.styles.known.borrow_mut();
        if known.version != version {
            *known = Known { version, ..Known::default() };
        }
    }

    /// Whether it is a `<style>` whose text is CSS (HTML §4.2.6).
    pub fn is_sheet(&self, id: NodeId) -> bool {
        self.is_html(id, "style") && self.attr(id, "type").is_none_or(|t| t.is_empty() || t.eq_ignore_ascii_case("text/css"))
    }

    /// Whether an author's stylesheet says anything in the document.
    pub(crate) fn is_styled(&self) -> bool {
        self.refresh();
        if let Some(styled) = self.styles.known.borrow().styled {
            return styled;
        }
        let styled = !self.styles.adopted.is_empty() || self.composed_descendants(Self::ROOT).any(|n| self.is_sheet(n));
        self.styles.known.borrow_mut().styled = Some(styled);
        styled
    }

    /// The rules of the tree with this root.
    fn scope(&self, root: NodeId) -> Arc<Scope> {
        if let Some(scope) = self.styles.known.borrow().scopes.get(&root) {
            return scope.clone();
        }
        let scope = Scope::of(self.rules_of(root));
        self.styles.known.borrow_mut().scopes.insert(root, scope.clone());
        scope
    }

    /// The rules of a tree's sheets that apply, sheet by sheet.
    fn rules_of(&self, root: NodeId) -> Vec<Rules> {
        let mut rules: Vec<Rules> = Vec::new();
        for style in self.descendants(root).filter(|n| self.is_sheet(*n)) {
            if !self.attr(style, "media").is_none_or(|m| m.trim().is_empty() || Media::parse(m).matches(self.styles.viewport)) {
                continue;
            }
            match self.styles.of_element.get(&style).map(|id| &self.styles.sheets[*id]) {
                Some(sheet) if sheet.source.as_ref().is_some_and(|source| self.says(style, source)) => {
                    rules.extend((!sheet.disabled).then(|| sheet.rules.clone()));
                }
                _ => rules.push(self.read(style)),
            }
        }
        for sheet in self.styles.adopted.get(&root).into_iter().flatten().filter_map(|s| self.styles.sheets.get(*s)) {
            rules.extend((!sheet.disabled).then(|| sheet.rules.clone()));
        }
        rules
    }

    /// All that applies to an element, what counts least first.
    fn applied(&self, id: NodeId) -> Vec<Applied> {
        let mut out = Vec::new();
        let html = by_default();
        self.collect(&html.all.candidates(self, id), id, None, (0, 0), &mut out);
        for (name, value) in hints::of(self, id) {
            // They stand before all that an author says.
            let weight = Weight { origin: 1, tree: i32::MIN, inline: false, layer: 0, specificity: 0, order: 0 };
            out.push((weight, Declared { name: name.into(), value: value.into(), important: false }));
        }
        self.author(id, false, &mut out);
        if let Some(text) = self.attr(id, "style") {
            for declared in sheet::declarations(text) {
                let origin = if declared.important { 2 } else { 1 };
                out.push((Weight { origin, tree: 0, inline: true, layer: u32::MAX, specificity: 0, order: 0 }, declared));
            }
        }
        out.extend(self.animated(id));
        out.sort_by_key(|(weight, _)| *weight);
        out
    }

    /// What authors say of an element; with `showing` only whether it is displayed.
    fn author(&self, id: NodeId, showing: bool, out: &mut Vec<Applied>) {
        let root = self.root_of(id);
        let scope = self.scope(root);
        let of = if showing { &scope.showing } else { &scope.all };
        self.collect(&of.candidates(self, id), id, self.host_of(root), (1, 0), out);
        // Its own shadow tree speaks of it as its host, those that it is slotted into as their content, those around it of its parts.
        if let Some(shadow) = self.shadow_of(id) {
            let inner = self.scope(shadow);
            self.collect(&inner.hosts.iter().collect::<Vec<_>>(), id, Some(id), (1, -1), out);
        }
        let mut depth = -1;
        let mut slot = self.assigned_slot(id);
        while let Some(at) = slot {
            let inner = self.root_of(at);
            let scope = self.scope(inner);
            self.collect(&scope.slotted.iter().collect::<Vec<_>>(), id, self.host_of(inner), (1, depth), out);
            depth -= 1;
            slot = self.assigned_slot(at);
        }
        if self.attr(id, "part").is_some()
            && let Some(host) = self.host_of(root)
        {
            let outer = self.scope(self.root_of(host));
            self.collect(&outer.parts.iter().collect::<Vec<_>>(), id, self.host_of(self.root_of(host)), (1, 1), out);
        }
    }

    fn collect(&self, entries: &[&Entry], id: NodeId, host: Option<NodeId>, (origin, tree): (u8, i32), out: &mut Vec<Applied>) {
        for entry in entries {
            if !entry.flat.media.iter().all(|m| m.matches(self.styles.viewport)) {
                continue;
            }
            let Some(selector) = entry.flat.selectors.each().nth(entry.selector) else { continue };
            if !selects(selector, self, id, host) {
                continue;
            }
            for declared in &entry.flat.declarations {
                let weight = if declared.important {
                    let origin = if origin == 0 { 3 } else { 2 };
                    Weight {
                        origin,
                        tree: -tree,
                        inline: false,
                        layer: u32::MAX - entry.layer,
                        specificity: selector.specificity(),
                        order: entry.order,
                    }
                } else {
                    Weight { origin, tree, inline: false, layer: entry.layer, specificity: selector.specificity(), order: entry.order }
                };
                out.push((weight, declared.clone()));
            }
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::parse;

    /// The value of a property of the first element that a selector finds in a page.
    fn value(page: &str, selector: &str, property: &str) -> String {
        let doc = parse::document(page);
        let found = crate::Selectors::parse(selector).expect("a selector").query(&doc, Document::ROOT).expect("found");
        doc.computed(found).expect("it is on the page").get(property)
    }

    #[test]
    fn what_counts_most_wins() {
        let page = "<style>#a { color: red } p { color: blue !important; top: 1px } .b { top: 2px } @layer x { .b { top: 3px; left: 4px } } \
                    @layer y { .b { left: 5px } }</style><p id=a class=b style='color: lime'>x</p>";
        assert_eq!(value(page, "p", "color"), "rgb(0, 0, 255)", "what is important beats what stands in the attribute");
        assert_eq!(value(page, "p", "top"), "2px", "what is in no layer beats layers");
        assert_eq!(value(page, "p", "left"), "5px", "the later layer wins");
    }

    #[test]
    fn every_property_of_the_table_has_a_value_and_a_place() {
        let doc = parse::document("<x-kiln></x-kiln>");
        let kiln = doc.descendants(Document::ROOT).find(|n| doc.local_name(*n) == Some("x-kiln")).expect("there");
        let computed = doc.computed(kiln).expect("on the page");
        assert!(property_names().count() > 350);
        for name in property_names() {
            assert!(is_property(name) && !computed.get(name).is_empty(), "{name}");
        }
        assert_eq!(computed.get("pottery"), "");
    }

    #[test]
    fn what_was_found_out_is_forgotten_when_the_document_changes() {
        let mut doc = parse::document("<style>.hot { opacity: 0.5 }</style><p>x</p>");
        let p = doc.descendants(Document::ROOT).find(|n| doc.is_html(*n, "p")).expect("there");
        assert_eq!(doc.computed(p).expect("on the page").get("opacity"), "1");
        doc.element_mut(p).expect("an element").set_attr("class", "hot");
        assert_eq!(doc.computed(p).expect("on the page").get("opacity"), "0.5");
        let style = doc.descendants(Document::ROOT).find(|n| doc.is_html(*n, "style")).expect("there");
        let sheet = doc.sheet_of(style);
        assert_eq!(doc.insert_rule(sheet, "p.hot { opacity: 0.25 }", 1), Ok(()));
        assert_eq!(doc.computed(p).expect("on the page").get("opacity"), "0.25");
        assert_eq!(doc.insert_rule(sheet, "p {} b {}", 0), Err("SyntaxError"));
        assert_eq!(doc.delete_rule(sheet, 7), Err("IndexSizeError"));
        doc.disable_sheet(sheet, true);
        assert_eq!(doc.computed(p).expect("on the page").get("opacity"), "1");
        doc.detach(p);
        assert!(doc.computed(p).is_none());
    }

    #[test]
    fn what_was_read_of_a_style_lasts_as_long_as_it_is_on_the_page() {
        let mut doc = parse::document("<style>p { opacity: 0.5 }</style><style>p { top: 1px }</style><p>x</p>");
        let all = |doc: &Document, name: &str| doc.descendants(Document::ROOT).filter(|n| doc.is_html(*n, name)).collect::<Vec<_>>();
        let (styles, p) = (all(&doc, "style"), all(&doc, "p")[0]);
        assert_eq!(doc.computed(p).expect("on the page").get("opacity"), "0.5");
        let held = |doc: &Document| doc.styles.read.borrow().len();
        assert_eq!((held(&doc), held(&doc.snapshot().0)), (2, 2));
        doc.detach(styles[0]);
        doc.forget_gone_sheets();
        assert_eq!((held(&doc), doc.computed(p).expect("on the page").get("opacity")), (1, "1".to_owned()));
        // The same node with another text, and with two.
        let text = doc.children(styles[1]).next().expect("its text");
        doc.set_text_content(text, "p { top: 2px }");
        assert_eq!(doc.computed(p).expect("on the page").get("top"), "2px");
        let more = doc.push(NodeData::Text(Arc::new(" p { left: 3px }".to_owned())));
        doc.append(styles[1], more);
        let computed = doc.computed(p).expect("on the page");
        assert_eq!((computed.get("top"), computed.get("left")), ("2px".to_owned(), "3px".to_owned()));
    }

    #[test]
    fn what_stylesheets_hide_is_hidden_and_a_copy_remembers() {
        let doc = parse::document(
            "<style>.gone { display: none } .dim { visibility: hidden } [hidden] { display: block }</style><p class=gone>a</p><p class=dim>b</p><p hidden>c</p>",
        );
        let ps: Vec<NodeId> = doc.descendants(Document::ROOT).filter(|n| doc.is_html(*n, "p")).collect();
        assert_eq!(ps.iter().map(|p| crate::form::is_hidden(&doc, *p)).collect::<Vec<_>>(), [true, true, false]);
        let (copy, numbers) = doc.snapshot();
        let there: Vec<bool> = ps
            .iter()
            .map(|p| numbers.iter().position(|n| n == p).map(|at| NodeId(u32::try_from(at).expect("few"))).expect("copied"))
            .map(|p| crate::form::is_hidden(&copy, p))
            .collect();
        assert_eq!(there, [true, true, false]);
    }

    #[test]
    fn what_stands_too_deep_is_refused() {
        for (open, middle, close) in [("@media all {", "p { color: red }", "}"), ("p {", "color: red", "}"), (":is(", "p", ")")] {
            let text = format!("{}{middle}{} p {{ top: 1px }}", open.repeat(20_000), close.repeat(20_000));
            assert_eq!(sheet::parse(&text).len(), usize::from(open != ":is("), "{open}");
        }
        assert!(!sheet::supports_text(&"(".repeat(200_000)));
        assert!(!sheet::takes("width", &"calc(".repeat(200_000)));
    }

    #[test]
    fn custom_properties_that_lead_to_each_other_or_grow_without_end_are_none() {
        assert_eq!(
            value("<style>p { --a: var(--b); --b: var(--a); color: var(--a, red) }</style><p>x</p>", "p", "color"),
            "rgb(255, 0, 0)"
        );
        let mut bomb = String::from("<style>p { --x0: aaaaaaaaaa;");
        for i in 1..40 {
            bomb.push_str(&format!("--x{i}: var(--x{0}) var(--x{0});", i - 1));
        }
        bomb.push_str("}</style><p>x</p>");
        assert_eq!(value(&bomb, "p", "--x39"), "");
        // Nothing grows here: it is worked out once all the same, not as often as it is named.
        let empty = bomb.replace("aaaaaaaaaa", "/**/");
        assert_eq!(value(&empty, "p", "--x39").trim(), "");
        let deep = format!("<style>p {{ color: {}red{} }}</style><p>x</p>", "var(--a,".repeat(10_000), ")".repeat(10_000));
        assert_eq!(value(&deep, "p", "color"), "rgb(0, 0, 0)");
    }
}
