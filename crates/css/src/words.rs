//! Which words a property takes alone: what is set to another word is not set at all, as in a browser.

use std::sync::OnceLock;

use rustc_hash::{FxHashMap, FxHashSet};

/// The words of one property.
struct Words {
    /// Names that an author makes up, too.
    any: bool,
    /// Those of `color`, too.
    colours: bool,
    own: FxHashSet<&'static str>,
}

fn table() -> &'static FxHashMap<&'static str, Words> {
    static TABLE: OnceLock<FxHashMap<&'static str, Words>> = OnceLock::new();
    TABLE.get_or_init(|| {
        let lines = include_str!("../data/words.txt").lines().filter_map(|line| line.split_once(" |"));
        let read = |(name, words): (&'static str, &'static str)| {
            let mut own: FxHashSet<&str> = words.split_ascii_whitespace().collect();
            let (any, colours) = (own.remove("*"), own.remove("<color>"));
            (name, Words { any, colours, own })
        };
        lines.map(read).collect()
    })
}

/// Whether there is such a property, be it a shorthand or an older name.
pub fn is_known(property: &str) -> bool {
    table().contains_key(property)
}

/// Whether a property takes `word`, in lower case, as its whole value.
pub fn takes(property: &str, word: &str) -> bool {
    let Some(words) = table().get(property) else { return false };
    let is_colour = || table().get("color").is_some_and(|c| c.own.contains(word));
    words.any || words.own.contains(word) || words.colours && is_colour() || is_wide(word)
}

/// Whether a word is one of the property's own, none that an author made up.
pub fn is_own(property: &str, word: &str) -> bool {
    is_wide(word) || table().get(property).is_some_and(|words| words.own.contains(word))
}

/// The words that every property takes (CSS Cascade §7).
pub fn is_wide(value: &str) -> bool {
    ["inherit", "initial", "unset", "revert", "revert-layer"].iter().any(|w| value.eq_ignore_ascii_case(w))
}

/// Whether a value is nothing but one word, and none that only an author can have made up.
pub fn is_word(value: &str) -> bool {
    let rest = value.strip_prefix('-').unwrap_or(value);
    rest.starts_with(|c: char| c.is_ascii_alphabetic()) && rest.bytes().all(|b| b.is_ascii_alphanumeric() || b == b'-' || b == b'_')
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn properties_take_the_words_that_they_have() {
        for (property, word, does) in [
            ("display", "grid", true),
            ("display", "pottery", false),
            ("color", "rebeccapurple", true),
            ("border-top-color", "currentcolor", true),
            ("color", "undefined", false),
            ("width", "fit-content", true),
            ("width", "inherit", true),
            ("animation-name", "fire", true),
            ("empty-cells", "hide", true),
            ("glaze", "inherit", false),
        ] {
            assert_eq!(takes(property, word), does, "{property}: {word}");
        }
        assert!(is_known("-webkit-line-clamp") && is_known("margin") && !is_known("glaze"));
        for (value, is) in [
            ("auto", true),
            ("-webkit-box", true),
            ("1px", false),
            ("-3px", false),
            ("a b", false),
            ("url(x)", false),
            ("-", false),
            ("--a", false),
        ] {
            assert_eq!(is_word(value), is, "{value}");
        }
    }
}
