//! What each property and each type takes, by a published table (see `data`, which `cargo run -p xtask -- web-data` makes).

use std::sync::OnceLock;

use rustc_hash::{FxHashMap, FxHashSet};

use crate::definition::Term;

/// A line of a table, its definition read when somebody asks.
struct Entry {
    /// The initial value, or the longhands after `= `.
    initial: &'static str,
    text: &'static str,
    term: OnceLock<Option<Term>>,
}

type Table = FxHashMap<&'static str, Entry>;

fn properties() -> &'static Table {
    static TABLE: OnceLock<Table> = OnceLock::new();
    TABLE.get_or_init(|| {
        let lines = [include_str!("../data/properties.txt"), include_str!("../data/browser.txt")].into_iter().flat_map(str::lines);
        let read = |line: &'static str| {
            let (name, rest) = line.split_once(" | ")?;
            let (initial, text) = rest.split_once(" | ")?;
            Some((name, Entry { initial, text, term: OnceLock::new() }))
        };
        lines.filter(|line| !line.starts_with('#')).filter_map(read).collect()
    })
}

fn types() -> &'static Table {
    static TABLE: OnceLock<Table> = OnceLock::new();
    TABLE.get_or_init(|| {
        let lines = [include_str!("../data/types.txt"), include_str!("../data/browser-types.txt")].into_iter().flat_map(str::lines);
        let read =
            |line: &'static str| line.split_once(" | ").map(|(name, text)| (name, Entry { initial: "", text, term: OnceLock::new() }));
        lines.filter(|line| !line.starts_with('#')).filter_map(read).collect()
    })
}

fn term(entry: &'static Entry) -> Option<&'static Term> {
    entry.term.get_or_init(|| Term::parse(entry.text)).as_ref()
}

/// What a property takes; none where that is not known.
pub fn of_property(name: &str) -> Option<&'static Term> {
    properties().get(name).and_then(term)
}

/// What a type is made of; none for the basic types, and for what is not known.
pub fn of_type(name: &str) -> Option<&'static Term> {
    types().get(name).and_then(term)
}

/// The longhands of a shorthand, in the order of the standard; empty for any other property.
pub fn longhands(name: &str) -> Vec<&'static str> {
    let list = properties().get(name).and_then(|e| e.initial.strip_prefix("= "));
    list.map(|l| l.split(' ').collect()).unwrap_or_default()
}

/// Whether a shorthand sets a property, by itself or by a shorthand that it sets.
pub fn covers(shorthand: &str, property: &str) -> bool {
    fn all(of: &'static str, out: &mut FxHashSet<&'static str>) {
        for part in longhands(of) {
            if out.insert(part) {
                all(part, out);
            }
        }
    }
    static TABLE: OnceLock<FxHashMap<&'static str, FxHashSet<&'static str>>> = OnceLock::new();
    let table = TABLE.get_or_init(|| {
        let shorthands = properties().iter().filter(|(_, entry)| entry.initial.starts_with("= ")).map(|(name, _)| *name);
        let covered = |name| {
            let mut out = FxHashSet::default();
            all(name, &mut out);
            (name, out)
        };
        shorthands.map(covered).collect()
    });
    table.get(shorthand).is_some_and(|covered| covered.contains(property))
}

/// Whether a property takes a type anywhere, as far as the definition leads.
pub fn mentions(property: &str, name: &str) -> bool {
    fn within(term: &Term, name: &str, depth: usize) -> bool {
        let inside = |term: &Term| within(term, name, depth);
        match term {
            Term::Keyword(_) | Term::Literal(_) => false,
            Term::Type(ty, ..) => {
                ty == name || ty == &format!("{name}-percentage") || depth > 0 && of_type(ty).is_some_and(|t| within(t, name, depth - 1))
            }
            Term::Property(property) => depth > 0 && of_property(property).is_some_and(|t| within(t, name, depth - 1)),
            Term::Function(_, term) | Term::Block(_, term) | Term::Filled(term) | Term::Repeat { term, .. } => inside(term),
            Term::Sequence(parts) | Term::All(parts) | Term::Any(parts) | Term::One(parts) => parts.iter().any(inside),
        }
    }
    const DEEP: usize = 4;
    of_property(property).is_some_and(|term| within(term, name, DEEP))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn every_definition_is_read() {
        let wrong: Vec<&str> = properties().iter().chain(types()).filter(|(_, e)| term(e).is_none()).map(|(name, _)| *name).collect();
        assert_eq!(wrong, [""; 0]);
        assert!(properties().len() > 600 && types().len() > 350);
        assert_eq!(longhands("flex"), ["flex-grow", "flex-shrink", "flex-basis"]);
        assert_eq!(longhands("color"), [""; 0]);
        assert!(covers("border", "border-top-width") && covers("margin", "margin-left") && !covers("margin", "margin"));
        assert!(!covers("border-top-width", "border") && !covers("color", "color"));
        assert!(mentions("box-shadow", "length") && mentions("order", "integer") && !mentions("color", "length"));
    }
}
