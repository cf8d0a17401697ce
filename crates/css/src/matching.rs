//! A value held against what a property takes (CSS Values §2): whether it fits, and its text in the order of the definition, as CSSOM §6.7.2
//! has it written down.
//!
//! All places at which a part of the definition can end are followed at once, each with the first text that leads there: the time that takes grows
//! with the value and the definition, not with the ways to read one as the other.

use crate::component::Component;
use crate::definition::Term;
use crate::{arrange, grammar, value};

mod basic;

/// Types within types that are followed.
const MOST_NESTED: usize = 40;

/// Components of one value that are looked at: a longer one is not held against anything.
const MOST_COMPONENTS: usize = 400;

/// Where a part of a definition ends in a value, and what it took, written down.
type Ends = Vec<(usize, String)>;

/// Whether a value is too long to be held against anything: a picture made of shadows, say.
pub fn is_too_long(value: &[Component]) -> bool {
    value.len() > MOST_COMPONENTS
}

/// The text of a value that fits a definition; none where it does not.
pub fn matched(property: &str, term: &Term, value: &[Component]) -> Option<String> {
    if is_too_long(value) {
        return None;
    }
    Matching { property, depth: 0 }.whole(term, value)
}

#[derive(Clone, Copy)]
struct Matching<'a> {
    property: &'a str,
    depth: usize,
}

/// Two texts side by side: one space, none before a comma or where one of them is empty.
fn beside(before: &str, after: &str) -> String {
    match () {
        () if before.is_empty() => after.to_owned(),
        () if after.is_empty() => before.to_owned(),
        () if after.starts_with(',') => format!("{before}{after}"),
        () => format!("{before} {after}"),
    }
}

fn add(ends: &mut Ends, end: usize, text: String) {
    if ends.iter().all(|(known, _)| *known != end) {
        ends.push((end, text));
    }
}

impl Matching<'_> {
    /// The text of all of a value.
    fn whole(self, term: &Term, value: &[Component]) -> Option<String> {
        self.ends(term, value, 0).into_iter().find(|(end, _)| *end == value.len()).map(|(_, text)| text)
    }

    fn ends(self, term: &Term, value: &[Component], at: usize) -> Ends {
        match term {
            Term::Keyword(word) => match value.get(at) {
                Some(Component::Ident(written)) if written.eq_ignore_ascii_case(word) => vec![(at + 1, word.clone())],
                _ => Ends::new(),
            },
            Term::Literal(sign) => match value.get(at) {
                Some(Component::Sign(written)) if written == sign => vec![(at + 1, sign.to_string())],
                _ => Ends::new(),
            },
            Term::Type(name, least, most) => self.of_type(name, (*least, *most), value, at),
            Term::Property(name) => match grammar::of_property(name) {
                Some(inner) if self.depth < MOST_NESTED => Self { depth: self.depth + 1, ..self }.ends(inner, value, at),
                _ => Ends::new(),
            },
            Term::Function(name, inner) => match value.get(at) {
                Some(Component::Function(written, list, _)) if written.eq_ignore_ascii_case(name) && self.depth < MOST_NESTED => {
                    let text = Self { depth: self.depth + 1, ..self }.whole(inner, list);
                    text.map(|text| (at + 1, value::called(name, &text))).into_iter().collect()
                }
                _ => Ends::new(),
            },
            Term::Block(open, inner) => match value.get(at) {
                Some(Component::Block(written, list)) if written == open && self.depth < MOST_NESTED => {
                    let text = Self { depth: self.depth + 1, ..self }.whole(inner, list);
                    let close = if *open == '(' { ')' } else { ']' };
                    text.map(|text| (at + 1, format!("{open}{text}{close}"))).into_iter().collect()
                }
                _ => Ends::new(),
            },
            // A list in square brackets is written in quoted signs.
            Term::Sequence(parts) => match parts.as_slice() {
                [Term::Literal('['), inner @ .., Term::Literal(']')] => match value.get(at) {
                    Some(Component::Block('[', list)) => {
                        let text = self.whole(&Term::Sequence(inner.to_vec()), list);
                        text.map(|text| (at + 1, format!("[{text}]"))).into_iter().collect()
                    }
                    _ => Ends::new(),
                },
                parts => self.sequence(parts, value, at, true),
            },
            Term::One(parts) => {
                let mut out = Ends::new();
                for part in parts {
                    self.ends(part, value, at).into_iter().for_each(|(end, text)| add(&mut out, end, text));
                }
                out
            }
            Term::All(parts) => self.unordered(parts, value, at, parts.len()),
            Term::Any(parts) => self.unordered(parts, value, at, 1),
            Term::Repeat { term, least, most, commas } => self.repeated(term, (*least, *most, *commas), value, at),
            Term::Filled(inner) => self.ends(inner, value, at).into_iter().filter(|(end, _)| *end > at).collect(),
        }
    }

    /// Parts one after the other. A comma goes with what stands beside it: where all before it, or all behind it, is left out, so is the comma
    /// (CSS Values §2.1).
    fn sequence(self, parts: &[Term], value: &[Component], at: usize, bare: bool) -> Ends {
        let Some((first, rest)) = parts.split_first() else { return vec![(at, String::new())] };
        let mut out = Ends::new();
        let is_comma = *first == Term::Literal(',');
        if is_comma && bare {
            // Nothing stands before it.
            return self.sequence(rest, value, at, true);
        }
        for (end, text) in self.ends(first, value, at) {
            // A comma right behind another one is none.
            let bare = bare && text.is_empty() || is_comma;
            // Behind a comma something must stand.
            for (last, more) in self.sequence(rest, value, end, bare) {
                if is_comma && more.is_empty() && !rest.is_empty() {
                    continue;
                }
                add(&mut out, last, beside(&text, &more));
            }
        }
        if is_comma {
            for (last, more) in self.sequence(rest, value, at, false) {
                if more.is_empty() {
                    add(&mut out, last, String::new());
                }
            }
        }
        out
    }

    /// Parts in any order, at least so many of them that take something, or can take nothing; written in the order of the definition.
    fn unordered(self, parts: &[Term], value: &[Component], at: usize, least: usize) -> Ends {
        let mut out = Ends::new();
        // Which parts are there, where that ends, and the text of each.
        let mut open: Vec<(Vec<Option<String>>, usize)> = vec![(vec![None; parts.len()], at)];
        let mut known: Vec<(Vec<bool>, usize)> = Vec::new();
        let mut next = 0;
        while let Some((texts, end)) = open.get(next).cloned() {
            next += 1;
            // What can take nothing is there without anything.
            let is_there =
                |i: usize| texts[i].is_some() || least == parts.len() && self.ends(&parts[i], value, end).iter().any(|(e, _)| *e == end);
            if (0..parts.len()).filter(|i| is_there(*i)).count() >= least {
                let text = texts.iter().flatten().fold(String::new(), |text, part| beside(&text, part));
                add(&mut out, end, text);
            }
            for (i, part) in parts.iter().enumerate().filter(|(i, _)| texts[*i].is_none()) {
                for (after, text) in self.ends(part, value, end).into_iter().filter(|(after, _)| *after > end) {
                    let mut with = texts.clone();
                    with[i] = Some(text);
                    let state = (with.iter().map(Option::is_some).collect::<Vec<_>>(), after);
                    if !known.contains(&state) {
                        known.push(state);
                        open.push((with, after));
                    }
                }
            }
        }
        // What takes most comes first: a part that is left out may be taken by nobody behind.
        out.sort_by_key(|(end, _)| std::cmp::Reverse(*end));
        out
    }

    fn repeated(self, term: &Term, (least, most, commas): (usize, usize, bool), value: &[Component], at: usize) -> Ends {
        if least <= 1 && most == usize::MAX {
            return self.any_number(term, least, commas, value, at);
        }
        let mut out = Ends::new();
        if least == 0 {
            add(&mut out, at, String::new());
        }
        let mut open: Ends = vec![(at, String::new())];
        let mut count = 0;
        while count < most && !open.is_empty() {
            count += 1;
            let mut reached = Ends::new();
            for (from, text) in &open {
                let from = match value.get(*from) {
                    Some(Component::Sign(',')) if commas && count > 1 => from + 1,
                    _ if commas && count > 1 => continue,
                    _ => *from,
                };
                for (end, more) in self.ends(term, value, from) {
                    // What takes nothing is no more of it.
                    if end > from || count <= least && end == from && !commas {
                        let text = if commas && count > 1 { format!("{text}, {more}") } else { beside(text, &more) };
                        add(&mut reached, end, text);
                    }
                }
            }
            if count >= least {
                reached.iter().for_each(|(end, text)| add(&mut out, *end, text.clone()));
            }
            if reached == open {
                break;
            }
            open = reached;
        }
        out.sort_by_key(|(end, _)| std::cmp::Reverse(*end));
        out
    }

    /// However many: each place is gone on from once.
    fn any_number(self, term: &Term, least: usize, commas: bool, value: &[Component], at: usize) -> Ends {
        let mut out: Ends = vec![(at, String::new())];
        let mut next = 0;
        while let Some((from, text)) = out.get(next).cloned() {
            next += 1;
            let is_first = from == at;
            let start = match value.get(from) {
                Some(Component::Sign(',')) if commas && !is_first => from + 1,
                _ if commas && !is_first => continue,
                _ => from,
            };
            for (end, more) in self.ends(term, value, start).into_iter().filter(|(end, _)| *end > start) {
                let text = if commas && !is_first { format!("{text}, {more}") } else { beside(&text, &more) };
                add(&mut out, end, text);
            }
        }
        // What can be nothing is there once, too.
        let is_nothing = least == 0 || self.ends(term, value, at).iter().any(|(end, _)| *end == at);
        if !is_nothing {
            out.remove(0);
        }
        out.sort_by_key(|(end, _)| std::cmp::Reverse(*end));
        out
    }

    fn of_type(self, name: &str, range: (f64, f64), value: &[Component], at: usize) -> Ends {
        if let Some(ends) = self.basic(name, range, value, at) {
            return ends;
        }
        if self.depth >= MOST_NESTED {
            return Ends::new();
        }
        let inner = Self { depth: self.depth + 1, ..self };
        match grammar::of_type(name) {
            Some(term) if name == "position" => {
                inner.ends(term, value, at).into_iter().map(|(end, text)| (end, arrange::placed(&text))).collect()
            }
            Some(term) => inner.ends(term, value, at),
            // A function that the table knows by its name alone takes anything.
            None if name.ends_with("()") => match value.get(at) {
                Some(Component::Function(written, _, text)) if name.strip_suffix("()") == Some(written) => {
                    value::loose(self.property, &format!("{written}({text})")).map(|text| (at + 1, text)).into_iter().collect()
                }
                _ => Ends::new(),
            },
            None => Ends::new(),
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::component::components;

    fn held(definition: &str, value: &str) -> Option<String> {
        matched("margin", &Term::parse(definition)?, &components(value)?)
    }

    #[test]
    fn a_value_is_written_in_the_order_of_its_definition() {
        for (definition, value, text) in [
            ("a && b", "B a", Some("a b")),
            ("a && b", "a", None),
            ("a? && b", "b", Some("b")),
            ("a || b || c", "c a", Some("a c")),
            ("a || b", "a a", None),
            ("[ a | b ]+", "b a b", Some("b a b")),
            ("<length>{2}", "0 1PX", Some("0px 1px")),
            ("<length>{2}", "1px", None),
            ("<time>#", "1s,2ms", Some("1s, 2ms")),
            ("<time>#", "1s,", None),
            ("<time>#{2}", "1s, 2s, 3s", None),
            ("[ a? b? ]!", "", None),
            ("<integer [1,∞]>", "0", None),
            ("<number [0,1]>", "calc(2 * 3)", Some("calc(6)")),
            ("<length>", "calc(1px + 2%)", None),
            ("<length-percentage>", "calc(1px + 2%)", Some("calc(2% + 1px)")),
            ("turn( <angle> )", "TURN(.5deg)", Some("turn(0.5deg)")),
            ("a / b", "a/b", Some("a / b")),
            ("<custom-ident>", "inherit", None),
        ] {
            assert_eq!(held(definition, value).as_deref(), text, "{value} of {definition}");
        }
    }

    #[test]
    fn a_comma_goes_with_what_stands_beside_it() {
        for (value, text) in [
            ("a, b, c", Some("a, b, c")),
            ("b, c", Some("b, c")),
            ("a, c", Some("a, c")),
            ("c", Some("c")),
            (", c", None),
            ("a b, c", None),
        ] {
            assert_eq!(held("a? , b? , c", value).as_deref(), text, "{value}");
        }
        assert_eq!(
            (held("steps( <integer> , end? )", "steps(2)").as_deref(), held("steps( <integer> , end? )", "steps(2,)")),
            (Some("steps(2)"), None)
        );
        assert_eq!(held("[ <url> , ]* a", "url(x), url('y'), a").as_deref(), Some("url(\"x\"), url(\"y\"), a"));
    }

    #[test]
    fn what_can_be_read_in_many_ways_ends_soon() {
        let many = "a ".repeat(MOST_COMPONENTS);
        assert!(held("[ a+ ]+", &many).is_some());
        assert!(held("[ a* b? ]+ c", &many).is_none());
        assert_eq!(held("a+", &"a ".repeat(MOST_COMPONENTS + 1)), None);
    }
}
