//! The basic types: numbers with their units, words, texts, addresses, colours (CSS Values §4–§8, CSS Color §4).

use super::{Ends, Matching};
use crate::component::Component;
use crate::math::{self, Kind};
use crate::value::{self, number};
use crate::words;

/// What a number is of: the types that take it.
const NUMERIC: [(&str, Kind); 14] = [
    ("length", Kind::LENGTH),
    ("percentage", Kind::PERCENTAGE),
    ("length-percentage", Kind::LENGTH_PERCENTAGE),
    ("number", Kind::NUMBER),
    ("integer", Kind::NUMBER),
    ("angle", Kind::ANGLE),
    ("angle-percentage", Kind::ANGLE_PERCENTAGE),
    ("time", Kind::TIME),
    ("time-percentage", Kind::TIME_PERCENTAGE),
    ("frequency", Kind::FREQUENCY),
    ("frequency-percentage", Kind::FREQUENCY),
    ("resolution", Kind::RESOLUTION),
    ("flex", Kind::FLEX),
    ("number-percentage", Kind::NUMBER_PERCENTAGE),
];

/// Words that no author may make up a name of (CSS Values §4.2).
const RESERVED: [&str; 6] = ["inherit", "initial", "unset", "revert", "revert-layer", "default"];

impl Matching<'_> {
    /// Whether a word is none that an author may make up: of every property, or of this one.
    fn is_reserved(self, word: &str) -> bool {
        let own: &[&str] = match self.property {
            name if name.starts_with("grid-") => &["span", "auto"],
            name if name.starts_with("counter-") => &["none"],
            name if name.starts_with("container") => &["none", "and", "or", "not"],
            "animation" | "animation-name" | "list-style-type" | "list-style" => &["none"],
            "page" | "view-transition-name" => &["auto"],
            "will-change" => &["auto", "none", "all", "will-change"],
            "color-scheme" => &["normal", "light", "dark", "only"],
            _ => &[],
        };
        RESERVED.iter().chain(own).any(|r| word.eq_ignore_ascii_case(r))
    }

    /// Where a basic type ends; none for a type that is none.
    pub(super) fn basic(self, name: &str, range: (f64, f64), value: &[Component], at: usize) -> Option<Ends> {
        let one = |text: Option<String>| text.map(|text| (at + 1, text)).into_iter().collect::<Ends>();
        let first = value.get(at);
        if let Some((_, kind)) = NUMERIC.iter().find(|(n, _)| *n == name) {
            return Some(one(first.and_then(|c| numeric(c, *kind, name == "integer", range))));
        }
        Some(match name {
            "zero" => one(match first {
                Some(Component::Number(n, _)) if *n == 0.0 => Some("0deg".into()),
                _ => None,
            }),
            "string" => one(match first {
                Some(Component::Text(text)) => Some(value::quoted(text)),
                _ => None,
            }),
            // Four letters (CSS Fonts §6.12).
            "opentype-tag" => one(match first {
                Some(Component::Text(text)) if text.len() == 4 && text.bytes().all(|b| (b' '..=b'~').contains(&b)) => {
                    Some(value::quoted(text))
                }
                _ => None,
            }),
            // Words are one name (CSS Fonts §2.1.1); one that is alone may not be a word of every property.
            "family-name" => {
                let words = value[at..].iter().map_while(|c| match c {
                    Component::Ident(word) => Some(word.as_str()),
                    _ => None,
                });
                let words: Vec<&str> = words.collect();
                match (words.as_slice(), first) {
                    ([], Some(Component::Text(text))) => vec![(at + 1, value::quoted(text))],
                    ([], _) => Ends::new(),
                    ([word], _) if self.is_reserved(word) => Ends::new(),
                    (words, _) => vec![(at + words.len(), words.join(" "))],
                }
            }
            "ident" => one(match first {
                Some(Component::Ident(word)) => Some(word.clone()),
                _ => None,
            }),
            "custom-ident" => one(match first {
                Some(Component::Ident(word)) if !self.is_reserved(word) => Some(word.clone()),
                _ => None,
            }),
            "dashed-ident" | "custom-property-name" => one(match first {
                Some(Component::Ident(word)) if word.starts_with("--") => Some(word.clone()),
                _ => None,
            }),
            "url" => one(match first {
                Some(Component::Url(address)) => Some(format!("url({})", value::quoted(address))),
                Some(Component::Function(name, list, _)) if name == "url" || name == "src" => match list.as_slice() {
                    [Component::Text(address)] => Some(format!("{name}({})", value::quoted(address))),
                    _ => None,
                },
                _ => None,
            }),
            "color" => one(first.and_then(colour)),
            "hex-color" => one(match first {
                Some(Component::Hash(digits)) => value::hex_colour(digits),
                _ => None,
            }),
            "named-color" => one(match first {
                Some(Component::Ident(word)) if words::takes("color", &word.to_ascii_lowercase()) => Some(word.to_ascii_lowercase()),
                _ => None,
            }),
            "any-value" | "declaration-value" => {
                let texts = value[at..].iter().map(|c| value::plain(self.property, c));
                vec![(value.len(), texts.fold(String::new(), |out, text| super::beside(&out, &text)))]
            }
            _ => return None,
        })
    }
}

/// A number with its unit, or what is calculated, if it is of the kind and in the range.
fn numeric(component: &Component, kind: Kind, whole: bool, (least, most): (f64, f64)) -> Option<String> {
    let fits = |n: f64| n >= least && n <= most;
    match component {
        Component::Number(n, int) if kind.has(Kind::NUMBER) && fits(*n) => match (whole, int) {
            (true, Some(int)) => Some(int.to_string()),
            (true, None) => None,
            (false, _) => Some(number(*n)),
        },
        // The one number that needs no unit.
        Component::Number(n, _) if *n == 0.0 && kind.has(Kind::LENGTH) && fits(0.0) => Some("0px".into()),
        Component::Percentage(n) if kind.has(Kind::PERCENTAGE) && fits(*n) => Some(format!("{}%", number(*n))),
        Component::Dimension(n, unit) if math::kind_of_unit(unit).is_some_and(|k| kind.has(k)) && fits(*n) => {
            Some(format!("{}{unit}", number(*n)))
        }
        Component::Function(name, _, inner) if math::is_math(name) => {
            let (found, text) = math::read(name, inner)?;
            kind.has(found).then_some(text)
        }
        _ => None,
    }
}

/// A colour as it is written down (CSS Color §15).
fn colour(component: &Component) -> Option<String> {
    match component {
        Component::Ident(word) => {
            let word = word.to_ascii_lowercase();
            words::takes("color", &word).then_some(word).filter(|w| !words::is_wide(w))
        }
        Component::Hash(digits) => value::hex_colour(digits),
        Component::Function(name, list, inner) => crate::colour::function(name, list, inner),
        _ => None,
    }
}
