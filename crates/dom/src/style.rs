//! Declaration lists, as a `style` attribute holds them (CSSOM §6.6, CSS Syntax §5.4.5).

use cssparser::{
    AtRuleParser, CowRcStr, DeclarationParser, ParseError, Parser, ParserState, QualifiedRuleParser, RuleBodyItemParser, RuleBodyParser,
};

/// One declaration: `name: value`, or `name: value !important`.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Declaration {
    /// The property, in lower case unless it is a custom property.
    pub name: String,
    /// The value as written, white space at its ends removed.
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
        Ok(Declaration { name, value: value.to_string(), important })
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
