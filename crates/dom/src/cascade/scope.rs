//! The rules of one tree, filed by what their selectors end with, so that few are tried for an element.

use std::cell::RefCell;
use std::collections::HashMap;
use std::sync::Arc;

use rustc_hash::FxHashMap;

use super::Rules;
use super::sheet::{self, Flat};
use crate::selector::{Key, Reach, filed};
use crate::tree::{Document, NodeId};

/// A rule's selector, filed.
#[derive(Debug, Clone)]
pub(super) struct Entry {
    pub(super) flat: Arc<Flat>,
    /// Which of the selectors of the rule.
    pub(super) selector: usize,
    pub(super) order: u32,
    pub(super) layer: u32,
}

/// Selectors by what their rightmost part asks for.
#[derive(Debug, Default)]
pub(super) struct Filed {
    ids: FxHashMap<Box<str>, Vec<Entry>>,
    classes: FxHashMap<Box<str>, Vec<Entry>>,
    names: FxHashMap<Box<str>, Vec<Entry>>,
    others: Vec<Entry>,
    any: bool,
}

impl Filed {
    fn file(&mut self, key: Key, entry: Entry) {
        self.any = true;
        let list = match key {
            Key::Id(id) => self.ids.entry(id).or_default(),
            Key::Class(class) => self.classes.entry(class).or_default(),
            Key::Name(name) => self.names.entry(name).or_default(),
            Key::Any => &mut self.others,
        };
        list.push(entry);
    }

    /// What may match an element.
    pub(super) fn candidates(&self, doc: &Document, id: NodeId) -> Vec<&Entry> {
        let Some(element) = doc.element(id).filter(|_| self.any) else { return Vec::new() };
        let mut out: Vec<&Entry> = Vec::new();
        if let Some(id) = element.attr("id").filter(|_| !self.ids.is_empty()) {
            out.extend(self.ids.get(id).into_iter().flatten());
        }
        for class in element.classes() {
            out.extend(self.classes.get(class).into_iter().flatten());
        }
        if element.local.bytes().any(|b| b.is_ascii_uppercase()) {
            out.extend(self.names.get(&*element.local.to_ascii_lowercase()).into_iter().flatten());
        } else {
            out.extend(self.names.get(&element.local).into_iter().flatten());
        }
        out.extend(&self.others);
        out
    }
}

/// The rules of one tree.
#[derive(Debug, Default)]
pub(super) struct Scope {
    sheets: Vec<Rules>,
    pub(super) all: Filed,
    /// Those that say how or whether something is displayed.
    pub(super) showing: Filed,
    pub(super) hosts: Vec<Entry>,
    pub(super) slotted: Vec<Entry>,
    pub(super) parts: Vec<Entry>,
}

impl Scope {
    /// The rules of these sheets, filed once in a thread: they outlast changes of the tree, and snapshots have them too.
    pub(super) fn of(sheets: Vec<Rules>) -> Arc<Self> {
        const MOST: usize = 64;
        thread_local! {
            static BUILT: RefCell<Vec<Arc<Scope>>> = RefCell::default();
        }
        BUILT.with_borrow_mut(|built| {
            if let Some(at) = built.iter().rposition(|scope| scope.is_of(&sheets)) {
                return built[at].clone();
            }
            let scope = Arc::new(Self::new(sheets));
            if built.len() >= MOST {
                built.clear();
            }
            built.push(scope.clone());
            scope
        })
    }

    fn new(sheets: Vec<Rules>) -> Self {
        let rules = || sheets.iter().flat_map(|rules| rules.iter());
        let mut layers: Vec<&[Box<str>]> = Vec::new();
        for layer in rules().flat_map(|r| &r.layers) {
            if !layers.contains(&layer.as_slice()) {
                layers.push(layer);
            }
        }
        let rank = ranks(&layers);
        let mut out = Self::default();
        let mut order = 0;
        for flat in rules().flat_map(|r| &r.flats) {
            let layer = if flat.layer.is_empty() { u32::MAX } else { rank.get(flat.layer.as_slice()).copied().unwrap_or(0) };
            let shows = flat.declarations.iter().any(|d| matches!(&*d.name, "display" | "visibility" | "all"));
            for (i, selector) in flat.selectors.each().enumerate() {
                order += 1;
                let Some((key, reach)) = filed(selector) else { continue };
                let entry = Entry { flat: flat.clone(), selector: i, order, layer };
                match reach {
                    Reach::Host => out.hosts.push(entry),
                    Reach::Slotted => out.slotted.push(entry),
                    Reach::Part => out.parts.push(entry),
                    Reach::Own => {
                        if shows {
                            out.showing.file(key.clone(), entry.clone());
                        }
                        out.all.file(key, entry);
                    }
                }
            }
        }
        out.sheets = sheets;
        out
    }

    /// Whether it is made of these. Rules that a scope holds are copied before they are changed.
    fn is_of(&self, sheets: &[Rules]) -> bool {
        self.sheets.len() == sheets.len() && self.sheets.iter().zip(sheets).all(|(a, b)| Arc::ptr_eq(a, b))
    }
}

/// The order of layers (CSS Cascade §6.4.4): by first naming, what stands in a layer before the layer's own rules.
fn ranks<'a>(layers: &[&'a [Box<str>]]) -> HashMap<&'a [Box<str>], u32> {
    let place = |path: &[Box<str>]| layers.iter().position(|l| *l == path).unwrap_or(usize::MAX);
    let mut sorted: Vec<&[Box<str>]> = layers.to_vec();
    sorted.sort_by_key(|path| {
        // Each step by the place where that layer was first named; a layer's own rules come after those of its layers.
        let mut steps: Vec<usize> = (1..=path.len()).map(|depth| place(&path[..depth])).collect();
        steps.push(usize::MAX);
        steps
    });
    sorted.into_iter().enumerate().map(|(i, path)| (path, u32::try_from(i).unwrap_or(u32::MAX))).collect()
}

/// Parsed texts of this thread: components bring the same sheets case after case.
pub(super) fn parsed(text: &str) -> Rules {
    const MOST: usize = 4096;
    thread_local! {
        static PARSED: RefCell<FxHashMap<Box<str>, Rules>> = RefCell::default();
    }
    PARSED.with_borrow_mut(|all| {
        if let Some(rules) = all.get(text) {
            return rules.clone();
        }
        if all.len() >= MOST {
            all.clear();
        }
        let rules: Rules = Arc::new(sheet::parse(text));
        all.insert(text.into(), rules.clone());
        rules
    })
}

/// How HTML looks by default.
pub(super) fn by_default() -> Arc<Scope> {
    thread_local! {
        static HTML: Arc<Scope> = Arc::new(Scope::new(vec![Arc::new(sheet::parse(include_str!("html.css")))]));
    }
    HTML.with(Arc::clone)
}
