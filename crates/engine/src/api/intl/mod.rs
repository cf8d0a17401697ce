//! What ECMA-402 asks of a locale, from CLDR by the `icu` crates. A request and its answer are JSON; options are resolved in
//! `14-intl.js`.
//!
//! | module | subject |
//! |---|---|
//! | `number` | numbers, currencies, units |
//! | `date` | dates, times, zones |
//! | `words` | plurals, order, lists, relative times, segments |

mod date;
mod number;
mod words;

use std::fmt;

use icu::locale::{Locale, LocaleCanonicalizer};
use serde_json::{Value as Json, json};
use writeable::{Part, PartsWrite, Writeable};

use super::Natives;

pub(crate) fn register(n: &mut Natives<'_, '_>) -> rquickjs::Result<()> {
    n.add("intl", |request: String| {
        let asked: Json = serde_json::from_str(&request).unwrap_or_default();
        answer(&asked).unwrap_or(Json::Null).to_string()
    })
}

/// The answer to a request; none where the locale or an option is none that is known.
fn answer(asked: &Json) -> Option<Json> {
    let what = asked["what"].as_str()?;
    let mut locale: Locale = asked["locale"].as_str()?.parse().ok()?;
    match what {
        "tag" => {
            LocaleCanonicalizer::new_extended().canonicalize(&mut locale);
            Some(locale.to_string().into())
        }
        "number" => number::format(&locale, asked),
        "date" => date::format(&locale, asked),
        "offset" => date::offset(asked).map(Json::from),
        "plural" => words::plural(&locale, asked),
        "plurals" => words::plurals(&locale, asked),
        "compare" => words::compare(&locale, asked),
        "list" => words::list(&locale, asked),
        "relative" => words::relative(&locale, asked),
        "segments" => words::segments(asked),
        _ => None,
    }
}

/// A piece of formatted text: what it is, and the text.
type Piece = (String, String);

/// Collects text with its parts.
#[derive(Default)]
struct Sink {
    text: String,
    parts: Vec<(usize, usize, Part)>,
}

impl fmt::Write for Sink {
    fn write_str(&mut self, text: &str) -> fmt::Result {
        self.text.push_str(text);
        Ok(())
    }
}

impl PartsWrite for Sink {
    type SubPartsWrite = Self;

    fn with_part(&mut self, part: Part, mut write: impl FnMut(&mut Self) -> fmt::Result) -> fmt::Result {
        let start = self.text.len();
        write(self)?;
        self.parts.push((start, self.text.len(), part));
        Ok(())
    }
}

/// The text in pieces as ECMA-402 names them: the innermost part of a category, `literal` in between.
fn parts_of(formatted: &impl Writeable, category: &str) -> Vec<Piece> {
    let mut sink = Sink::default();
    if formatted.write_to_parts(&mut sink).is_err() {
        return Vec::new();
    }
    let mut out: Vec<Piece> = Vec::new();
    let mut last: Option<(usize, usize)> = None;
    for (at, c) in sink.text.char_indices() {
        let covering = sink.parts.iter().filter(|(s, e, p)| p.category == category && *s <= at && at < *e);
        let innermost = covering.min_by_key(|(s, e, _)| e - s);
        let place = innermost.map(|(s, e, _)| (*s, *e));
        let name = innermost.map_or("literal", |(_, _, p)| p.value);
        match out.last_mut() {
            Some((n, text)) if n == name && (place == last || name == "literal" || name == "integer") => text.push(c),
            _ => out.push((name.to_owned(), c.to_string())),
        }
        last = place;
    }
    out
}

fn to_json(parts: Vec<Piece>) -> Json {
    parts.into_iter().map(|(kind, value)| json!({ "type": kind, "value": value })).collect()
}
