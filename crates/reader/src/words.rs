//! Words of a text: names that stand by themselves.

/// Whether a character may be part of a name.
pub fn is_part(c: char) -> bool {
    c.is_alphanumeric() || c == '_' || c == '$'
}

/// The places at which a word stands by itself.
pub fn places<'t>(text: &'t str, word: &'t str) -> impl Iterator<Item = usize> + 't {
    let stands = move |at: &usize| !text[..*at].ends_with(is_part) && !text[at + word.len()..].starts_with(is_part);
    text.match_indices(word).map(|(at, _)| at).filter(stands)
}

/// Whether a word stands in a text by itself.
pub fn has(text: &str, word: &str) -> bool {
    places(text, word).next().is_some()
}
