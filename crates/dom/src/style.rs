//! Declaration lists, as a `style` attribute holds them (CSSOM §6.6, CSS Syntax §5.4.5).

use cssparser::{
    AtRuleParser, CowRcStr, DeclarationParser, ParseError, Parser, ParserState, QualifiedRuleParser, RuleBodyItemParser, RuleBodyParser,
};

/// One declaration: `name: value`, or `name: value !important`.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Declaration {
    /// The property, in lower case unless it is a custom property.
    pub name: String,
    /// The value, see [`canonical`].
    pub value: String,
    /// `!important`.
    pub important: bool,
}

struct Reader;

impl<'i> DeclarationParser<'i> for Reader {
    type Declaration = Declaration;
    type Error = ();

    fn parse_value(&mut self, name: CowRcStr<'i>, input: &mut Parser<'i>, _: &ParserState) -> Result<Declaration, ParseError<()>> {
        let start = input.position();
        while input.next_including_whitespace_and_comments().is_ok() {}
        let text = input.slice_from(start).trim();
        let (value, important) = match text.rsplit_once('!') {
            Some((value, word)) if word.trim().eq_ignore_ascii_case("important") => (value.trim_end(), true),
            _ => (text, false),
        };
        if value.is_empty() && !name.starts_with("--") {
            return Err(ParseError::custom(()));
        }
        let name = if name.starts_with("--") { name.to_string() } else { name.to_ascii_lowercase() };
        let value = canonical(&name, value);
        Ok(Declaration { name, value, important })
    }
}
impl AtRuleParser<'_> for Reader {
    type Prelude = ();
    type AtRule = Declaration;
    type Error = ();
}
impl QualifiedRuleParser<'_> for Reader {
    type Prelude = ();
    type QualifiedRule = Declaration;
    type Error = ();
}
impl RuleBodyItemParser<'_, Declaration, ()> for Reader {
    fn parse_declarations(&self) -> bool {
        true
    }
    fn parse_qualified(&self) -> bool {
        false
    }
}

/// A value as a browser writes it after a script set it (CSSOM §6.7.2), as far as it shows in everyday markup: a zero
/// length has a unit, hexadecimal colours become `rgb(…)`, commas are followed by one space. Custom properties and what
/// stands in strings and addresses stay as written.
pub fn canonical(name: &str, value: &str) -> String {
    if name.starts_with("--") || value.contains(['"', '\'']) || value.to_ascii_lowercase().contains("url(") {
        return value.to_owned();
    }
    let spaced = space_commas(value);
    let words: Vec<String> = spaced.split(' ').filter(|w| !w.is_empty()).map(|w| canonical_word(name, w)).collect();
    words.join(" ")
}

/// `a,b` and `a , b` become `a, b`.
fn space_commas(value: &str) -> String {
    let parts: Vec<&str> = value.split(',').map(str::trim).collect();
    parts.join(", ")
}

fn canonical_word(name: &str, word: &str) -> String {
    let (word, comma) = word.strip_suffix(',').map_or((word, ""), |w| (w, ","));
    if word == "0" && takes_length(name) {
        return format!("0px{comma}");
    }
    match word.strip_prefix('#').and_then(hex_colour) {
        Some(rgb) => rgb + comma,
        None => format!("{word}{comma}"),
    }
}

/// Properties in whose values a bare `0` is a length.
fn takes_length(name: &str) -> bool {
    const STARTS: [&str; 17] = [
        "margin",
        "padding",
        "inset",
        "gap",
        "row-gap",
        "column-gap",
        "min-",
        "max-",
        "scroll-margin",
        "scroll-padding",
        "letter-spacing",
        "word-spacing",
        "text-indent",
        "outline-",
        "border-spacing",
        "flex-basis",
        "column-width",
    ];
    const NAMES: [&str; 12] =
        ["width", "height", "top", "right", "bottom", "left", "border", "outline", "inline-size", "block-size", "font-size", "perspective"];
    let border = name.starts_with("border-") && !["collapse", "color", "style", "image"].iter().any(|w| name.contains(w));
    NAMES.contains(&name) || border || STARTS.iter().any(|s| name.starts_with(s))
}

/// CSS Color §5.2: three, four, six or eight digits, as `rgb(…)` or `rgba(…)`.
fn hex_colour(digits: &str) -> Option<String> {
    if !digits.bytes().all(|b| b.is_ascii_hexdigit()) {
        return None;
    }
    let wide = match digits.len() {
        3 | 4 => digits.chars().flat_map(|c| [c, c]).collect::<String>(),
        6 | 8 => digits.to_owned(),
        _ => return None,
    };
    let byte = |at: usize| u8::from_str_radix(wide.get(at..at + 2)?, 16).ok();
    let (r, g, b) = (byte(0)?, byte(2)?, byte(4)?);
    match byte(6) {
        None | Some(255) => Some(format!("rgb({r}, {g}, {b})")),
        Some(alpha) => Some(format!("rgba({r}, {g}, {b}, {})", alpha_text(alpha))),
    }
}

/// CSSOM §6.7.2: two decimals where they lead back to the same byte, else three.
fn alpha_text(alpha: u8) -> String {
    let exact = f64::from(alpha) / 255.0;
    let two = (exact * 100.0).round() / 100.0;
    if (two * 255.0).round() == f64::from(alpha) { two.to_string() } else { ((exact * 1000.0).round() / 1000.0).to_string() }
}

/// Reads a declaration list. What is not a declaration is skipped, as the standard says; a later declaration of a
/// property replaces an earlier one in its place.
pub fn parse(text: &str) -> Vec<Declaration> {
    let mut parser = Parser::new(text);
    let mut out: Vec<Declaration> = Vec::new();
    for declaration in RuleBodyParser::new(&mut parser, &mut Reader).flatten() {
        set(&mut out, declaration);
    }
    out
}

/// Sets one declaration: in place if the property is there, else last.
pub fn set(list: &mut Vec<Declaration>, declaration: Declaration) {
    match list.iter_mut().find(|d| d.name == declaration.name) {
        Some(old) => *old = declaration,
        None => list.push(declaration),
    }
}

/// The list as text: `name: value; name: value !important;`.
pub fn serialize(list: &[Declaration]) -> String {
    let parts: Vec<_> = list.iter().map(|d| format!("{}: {}{};", d.name, d.value, if d.important { " !important" } else { "" })).collect();
    parts.join(" ")
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn values_are_written_as_browsers_write_them() {
        // Each row was read from a browser: `style.setProperty(name, value)`, then `cssText`.
        for (name, value, out) in [
            ("margin", "0", "0px"),
            ("padding", "0 4px", "0px 4px"),
            ("border", "0", "0px"),
            ("border-width", "0", "0px"),
            ("border-radius", "0", "0px"),
            ("flex-grow", "0", "0"),
            ("opacity", "0", "0"),
            ("z-index", "0", "0"),
            ("line-height", "0", "0"),
            ("color", "#fff", "rgb(255, 255, 255)"),
            ("color", "#C60", "rgb(204, 102, 0)"),
            ("background-color", "#00000080", "rgba(0, 0, 0, 0.5)"),
            ("color", "rgb(1,2,3)", "rgb(1, 2, 3)"),
            ("color", "red", "red"),
            ("border", "1px solid #abc", "1px solid rgb(170, 187, 204)"),
            ("--tone", "#fff", "#fff"),
            ("--gap", "0", "0"),
            ("font-family", "\"A,B\"", "\"A,B\""),
        ] {
            assert_eq!(canonical(name, value), out, "{name}: {value}");
        }
    }

    #[test]
    fn lists_are_read_and_written() {
        for (text, out) in [
            ("color:red;WIDTH : 10px", "color: red; width: 10px;"),
            ("--Tone: #c60;color: var(--Tone) !important", "--Tone: #c60; color: var(--Tone) !important;"),
            ("color: red; bogus; width: 1px", "color: red; width: 1px;"),
            ("background: url(data:image/png;base64,AA==)", "background: url(data:image/png;base64,AA==);"),
            ("color: red; color: blue", "color: blue;"),
            ("", ""),
        ] {
            assert_eq!(serialize(&parse(text)), out, "{text}");
        }
    }
}
