//! Declaration lists, as a `style` attribute holds them (CSSOM §6.6, CSS Syntax §5.4.5).

use cssparser::{
    AtRuleParser, CowRcStr, DeclarationParser, ParseError, Parser, ParserState, QualifiedRuleParser, RuleBodyItemParser, RuleBodyParser,
};

use fidelon_css::{canonical, grammar, property};

/// One declaration: `name: value`, or `name: value !important`.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Declaration {
    /// The property, in lower case unless it is a custom property.
    pub name: String,
    /// The value, see [`fidelon_css`].
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
        let name = if name.starts_with("--") { name.to_string() } else { property(&name.to_ascii_lowercase()).to_owned() };
        let value = canonical(&name, value).ok_or_else(|| ParseError::custom(()))?;
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

/// Reads a declaration list. What is not a declaration is skipped, as the standard says; a later declaration of a
/// property replaces an earlier one in its place.
pub fn parse(text: &str) -> Vec<Declaration> {
    let mut parser = Parser::new(text);
    let mut out: Vec<Declaration> = Vec::new();
    for declaration in RuleBodyParser::new(&mut parser, &mut Reader).flatten() {
        // Within one list what is important stays, whatever comes later (CSS Cascade §6.1).
        let kept = get(&out, &declaration.name).is_some_and(|d| d.important) && !declaration.important;
        if !kept {
            set(&mut out, declaration);
        }
    }
    out
}

/// Shorthands whose parts are written one after the other, and those parts (CSS Cascade §3.1). Two parts stand for both of a
/// pair, four for the sides.
const SHORTHANDS: [(&str, &[&str]); 23] = [
    ("margin", &["margin-top", "margin-right", "margin-bottom", "margin-left"]),
    ("padding", &["padding-top", "padding-right", "padding-bottom", "padding-left"]),
    ("inset", &["top", "right", "bottom", "left"]),
    ("border-width", &["border-top-width", "border-right-width", "border-bottom-width", "border-left-width"]),
    ("border-style", &["border-top-style", "border-right-style", "border-bottom-style", "border-left-style"]),
    ("border-color", &["border-top-color", "border-right-color", "border-bottom-color", "border-left-color"]),
    ("scroll-margin", &["scroll-margin-top", "scroll-margin-right", "scroll-margin-bottom", "scroll-margin-left"]),
    ("scroll-padding", &["scroll-padding-top", "scroll-padding-right", "scroll-padding-bottom", "scroll-padding-left"]),
    ("overflow", &["overflow-x", "overflow-y"]),
    ("overscroll-behavior", &["overscroll-behavior-x", "overscroll-behavior-y"]),
    ("gap", &["row-gap", "column-gap"]),
    ("margin-block", &["margin-block-start", "margin-block-end"]),
    ("margin-inline", &["margin-inline-start", "margin-inline-end"]),
    ("padding-block", &["padding-block-start", "padding-block-end"]),
    ("padding-inline", &["padding-inline-start", "padding-inline-end"]),
    ("inset-block", &["inset-block-start", "inset-block-end"]),
    ("inset-inline", &["inset-inline-start", "inset-inline-end"]),
    ("border-block-color", &["border-block-start-color", "border-block-end-color"]),
    ("border-block-style", &["border-block-start-style", "border-block-end-style"]),
    ("border-block-width", &["border-block-start-width", "border-block-end-width"]),
    ("border-inline-color", &["border-inline-start-color", "border-inline-end-color"]),
    ("border-inline-style", &["border-inline-start-style", "border-inline-end-style"]),
    ("border-inline-width", &["border-inline-start-width", "border-inline-end-width"]),
];

/// A value split at its outer spaces.
fn words(value: &str) -> Vec<&str> {
    let mut depth = 0;
    value
        .split(|c: char| {
            match c {
                '(' => depth += 1,
                ')' => depth -= 1,
                _ => {}
            }
            depth == 0 && c == ' '
        })
        .filter(|w| !w.is_empty())
        .collect()
}

/// The values of a shorthand's parts; none where the value cannot be told apart, as with `var()`.
fn parts<'a>(longhands: &[&str], value: &'a str) -> Option<Vec<&'a str>> {
    let words = words(value);
    if value.contains("var(") || words.is_empty() || words.len() > longhands.len() {
        return None;
    }
    Some((0..longhands.len()).map(|i| *words.get(i).or_else(|| words.get(i.wrapping_sub(2))).unwrap_or(&words[0])).collect())
}

/// The shortest way to write the values of all parts.
pub fn joined(values: &[&str]) -> String {
    let mut shown = values.to_vec();
    while shown.len() > 1 {
        let last = shown.len() - 1;
        let implied = if last == 1 { 0 } else { last - 2 };
        if shown[last] != shown[implied] {
            break;
        }
        shown.pop();
    }
    shown.join(" ")
}

/// The value of a property, of a shorthand too: `margin` of the four sides. None when it is not set, or not in one piece.
pub fn get(list: &[Declaration], name: &str) -> Option<Declaration> {
    if let Some(found) = list.iter().find(|d| d.name == name) {
        return Some(found.clone());
    }
    match SHORTHANDS.iter().find(|(n, _)| *n == name) {
        Some((_, longhands)) => put_together(name, longhands.iter().map(|l| get(list, l)).collect::<Option<_>>()?),
        None => within(list, name),
    }
}

/// A shorthand of the declarations of all that it sets; none where they do not go together.
fn put_together(name: &str, parts: Vec<Declaration>) -> Option<Declaration> {
    let important = parts[0].important;
    let whole = parts.iter().all(|p| p.important == important && !p.value.contains("var("));
    whole.then(|| Declaration { name: name.to_owned(), value: joined(&parts.iter().map(|p| &*p.value).collect::<Vec<_>>()), important })
}

/// What a shorthand that is kept in one piece, `border` or `font`, says of one of the properties that it sets. What is substituted later
/// says nothing of them yet (CSS Variables §3.2).
fn within(list: &[Declaration], name: &str) -> Option<Declaration> {
    let whole = list.iter().rev().find(|d| grammar::covers(&d.name, name) && !d.value.contains("var("))?;
    let parts = crate::cascade::sheet::longhands(&whole.name, &whole.value, whole.important)?;
    let part = parts.into_iter().find(|part| *part.name == *name)?;
    Some(Declaration { name: name.to_owned(), value: canonical(name, &part.value)?, important: whole.important })
}

/// Takes a property away, all parts of a shorthand with it. True when there was anything to take.
pub fn remove(list: &mut Vec<Declaration>, name: &str) -> bool {
    let longhands = SHORTHANDS.iter().find(|(n, _)| *n == name).map_or(&[][..], |(_, l)| l);
    let before = list.len();
    list.retain(|d| d.name != name && !longhands.contains(&&*d.name) && !grammar::covers(name, &d.name));
    list.len() < before
}

/// Sets one declaration: in place if the property is there, else last. A shorthand sets its parts. True when that changes anything.
pub fn set(list: &mut Vec<Declaration>, declaration: Declaration) -> bool {
    if let Some((_, longhands)) = SHORTHANDS.iter().find(|(n, _)| *n == declaration.name)
        && let Some(values) = parts(longhands, &declaration.value)
    {
        let mut changed = false;
        for (longhand, value) in longhands.iter().zip(values) {
            changed |= set(list, Declaration { name: (*longhand).to_owned(), value: value.to_owned(), important: declaration.important });
        }
        return changed;
    }
    // What it covers is said by it, and what comes before a shorthand that covers it would say nothing.
    let before = list.len();
    list.retain(|d| !grammar::covers(&declaration.name, &d.name));
    let is_covered = |d: &Declaration| grammar::covers(&d.name, &declaration.name);
    if let Some(at) = list.iter().position(|d| d.name == declaration.name).filter(|at| list[*at..].iter().any(is_covered)) {
        list.remove(at);
    }
    let is_alone = before == list.len();
    match list.iter_mut().find(|d| d.name == declaration.name) {
        Some(old) if *old == declaration && is_alone => return false,
        Some(old) => *old = declaration,
        None => list.push(declaration),
    }
    true
}

/// The list as text: `name: value; name: value !important;`. Parts that are all there are written as their shorthand, where
/// the first of them stands (CSSOM §6.6 "serialize a CSS declaration block").
pub fn serialize(list: &[Declaration]) -> String {
    let mut done: Vec<&str> = Vec::new();
    let mut out = Vec::new();
    for declaration in list {
        if done.contains(&&*declaration.name) {
            continue;
        }
        let shorthand = SHORTHANDS.iter().find(|(_, longhands)| longhands.contains(&&*declaration.name));
        let declared = |name: &&str| list.iter().find(|d| d.name == **name).cloned();
        let whole = shorthand.and_then(|(name, longhands)| {
            let parts = longhands.iter().map(declared).collect::<Option<_>>()?;
            put_together(name, parts).map(|d| (d, *longhands))
        });
        match whole {
            Some((d, longhands)) => {
                done.extend(longhands);
                out.push(one(&d));
            }
            None => out.push(one(declaration)),
        }
    }
    out.join(" ")
}

fn one(d: &Declaration) -> String {
    format!("{}: {}{};", d.name, d.value, if d.important { " !important" } else { "" })
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_changes_nothing_says_so() {
        let mut list = parse("margin: 1px 2px; color: red");
        let one = |name: &str, value: &str, important: bool| Declaration { name: name.into(), value: value.into(), important };
        for (declaration, changes) in [
            (one("color", "red", false), false),
            (one("margin", "1px 2px 1px 2px", false), false),
            (one("margin", "1px 3px", false), true),
            (one("color", "red", true), true),
            (one("top", "1px", false), true),
        ] {
            let before = list.clone();
            assert_eq!((set(&mut list, declaration.clone()), list != before), (changes, changes), "{declaration:?}");
        }
        assert!(!remove(&mut list, "left") && remove(&mut list, "margin") && !remove(&mut list, "margin-top"));
    }

    #[test]
    fn lists_are_read_and_written() {
        for (text, out) in [
            ("color:red;WIDTH : 10px", "color: red; width: 10px;"),
            ("--Tone: #c60;color: var(--Tone) !important", "--Tone: #c60; color: var(--Tone) !important;"),
            ("color: red; bogus; width: 1px", "color: red; width: 1px;"),
            ("background-image: url(data:image/png;base64,AA==)", "background-image: url(\"data:image/png;base64,AA==\");"),
            ("color: red; color: blue", "color: blue;"),
            ("margin: 1px 2px", "margin: 1px 2px;"),
            ("margin: 1px; margin-left: 2px", "margin: 1px 1px 1px 2px;"),
            ("left: 0; color: red; top: 1px; right: auto; bottom: auto", "inset: 1px auto auto 0px; color: red;"),
            ("top: 0; left: 0", "top: 0px; left: 0px;"),
            ("margin: var(--gap) 2px", "margin: var(--gap) 2px;"),
            ("overflow: hidden", "overflow: hidden;"),
            ("overflow-x: hidden; overflow-y: auto", "overflow: hidden auto;"),
            ("color: red !important; color: blue", "color: red !important;"),
            ("padding: calc(1px + 2%) 0", "padding: calc(2% + 1px) 0px;"),
            ("border-top-width: 3px; border: 1px solid red", "border: 1px solid red;"),
            ("border: 1px solid red; border-top-width: 3px", "border: 1px solid red; border-top-width: 3px;"),
            ("border-color: red red", "border-color: red;"),
            ("", ""),
        ] {
            assert_eq!(serialize(&parse(text)), out, "{text}");
        }
        let list = parse("border: 1px solid red; font: bold 12px/2 serif; flex: 1");
        for (name, value) in
            [("border-left-style", "solid"), ("font-size", "12px"), ("flex-basis", "0%"), ("border-color", "red"), ("color", "")]
        {
            assert_eq!(get(&list, name).map_or(String::new(), |d| d.value), value, "{name}");
        }
    }
}
