//! Types that are written in comments (JSDoc): `@type {T}`, `@typedef {T} Name`, `@event {T} name`.

use std::ops::Range;
use std::sync::Arc;

use oxc::allocator::Allocator;
use oxc::ast::ast::Statement;
use oxc::parser::Parser;
use oxc::span::SourceType;

use crate::lower;
use crate::syntax::{Generic, Keyword, Member, MemberType, Shape, TypeKind, TypeNode};

/// A tag of a comment: `@event {{ heat: number }} fire - it is hot`.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Tag<'t> {
    /// Its name without the `@`.
    pub name: &'t str,
    /// Where its type stands in the file, without the braces.
    pub ty: Option<Range<usize>>,
    /// What comes after the type.
    pub rest: &'t str,
}

/// The tags of a comment that stands at an offset of its file.
pub fn tags(comment: &str, at: usize) -> Vec<Tag<'_>> {
    let is_name = |c: char| c.is_alphanumeric() || c == '_';
    let starts = comment.match_indices('@').filter(|(i, _)| comment[..*i].ends_with(|c: char| c.is_whitespace() || c == '*'));
    starts
        .map(|(i, _)| {
            let body = &comment[i + 1..];
            let end = body.find(|c| !is_name(c)).unwrap_or(body.len());
            let (name, after) = body.split_at(end);
            let blank = after.len() - after.trim_start().len();
            let from = i + 1 + end + blank;
            let ty = braced(&comment[from..]).map(|length| at + from + 1..at + from + 1 + length);
            let rest_from = ty.as_ref().map_or(from, |range| range.end + 1 - at);
            Tag { name, ty, rest: comment[rest_from..].trim_start() }
        })
        .collect()
}

/// How long what stands between the braces is that a text begins with.
fn braced(text: &str) -> Option<usize> {
    let mut depth = 0;
    for (at, c) in text.char_indices() {
        match c {
            '{' => depth += 1,
            '}' => depth -= 1,
            _ => {}
        }
        if depth == 0 {
            return (at > 0).then(|| at - 1);
        }
    }
    None
}

/// The name that a tag gives: `[name=default]`, `name - about`, `{@link …}` is none. True beside it where it is optional.
pub fn name_of<'t>(tag: &Tag<'t>) -> Option<(&'t str, bool)> {
    let (text, optional) = tag.rest.strip_prefix('[').map_or((tag.rest, false), |inner| (inner, true));
    let end = text.find(|c: char| !(c.is_alphanumeric() || "_-:.$".contains(c))).unwrap_or(text.len());
    (end > 0).then(|| (&text[..end], optional))
}

/// What stands before a type, so that it is parsed where it is: no longer than the shortest tag and its brace.
const BEFORE: &str = "let _:";

/// A type of a comment. Its places are those of the file.
pub fn parse(source: &str, range: Range<usize>) -> Option<Arc<TypeNode>> {
    let text = source.get(range.clone())?;
    let span = (range.start as u32, range.end as u32);
    if text.trim() == "*" {
        return Some(Arc::new(TypeNode { kind: TypeKind::Keyword(Keyword::Any), span }));
    }
    in_place(source, range, BEFORE, "", |statement| {
        let Statement::VariableDeclaration(variable) = statement else { return None };
        Some(lower::node(&variable.declarations.first()?.type_annotation.as_ref()?.type_annotation))
    })
}

/// The type parameters that a comment gives to what it declares: `<Id = any>`.
fn generics(source: &str, range: Range<usize>) -> Vec<Generic> {
    let read = in_place(source, range, "type _", " = 0", |statement| match statement {
        Statement::TSTypeAliasDeclaration(alias) => Some(lower::generics(alias.type_parameters.as_deref())),
        _ => None,
    });
    read.unwrap_or_default()
}

/// Parses a part of a comment where it stands, with a text before it and one after it, and reads the statement that these make.
fn in_place<T>(source: &str, range: Range<usize>, before: &str, after: &str, read: impl FnOnce(&Statement<'_>) -> Option<T>) -> Option<T> {
    let text = source.get(range.clone())?;
    let start = range.start.checked_sub(before.len())?;
    let mut padded: String = source.as_bytes()[..start].iter().map(|b| if *b == b'\n' { '\n' } else { ' ' }).collect();
    padded.push_str(before);
    // Lines of a comment begin with a star, and its lists may be written `Array.<T>`.
    for c in text.replace(".<", " <").chars() {
        padded.push(if c == '*' && padded.trim_end_matches([' ', '\t']).ends_with('\n') { ' ' } else { c });
    }
    padded.push_str(after);
    let allocator = Allocator::default();
    let parsed = Parser::new(&allocator, &padded, SourceType::ts()).parse();
    parsed.program.body.first().filter(|_| !parsed.panicked).and_then(read)
}

/// A type that a comment declares: its name, its parameters and what it is.
type Declared<'t> = (&'t str, Vec<Generic>, Arc<TypeNode>);

/// The types that a comment declares: `@typedef {T} Name`, an object whose `@property` tags follow, `@template {T} Name` for what stands for
/// any type like this one.
pub(crate) fn declared<'t>(source: &str, comment: &'t str, at: usize) -> Vec<Declared<'t>> {
    let tags = tags(comment, at);
    // Where a part of the comment stands in the file.
    let in_file = |part: &str| {
        let start = at + (part.as_ptr() as usize - comment.as_ptr() as usize);
        start..start + part.len()
    };
    let mut out: Vec<Declared<'_>> = Vec::new();
    for tag in tags.iter().filter(|t| t.name == "template") {
        let Some((name, optional)) = name_of(tag) else { continue };
        // `[Name = T]`: what it is where nothing else is said.
        let usual = tag.rest[1..].split_once('=').filter(|_| optional).map(|(_, text)| in_file(&text[..bracketed(text)]));
        if let Some(node) = usual.or_else(|| tag.ty.clone()).and_then(|range| parse(source, range)) {
            out.push((name, Vec::new(), node));
        }
    }
    for (i, tag) in tags.iter().enumerate().filter(|(_, t)| t.name == "typedef") {
        let Some((name, _)) = name_of(tag) else { continue };
        let after = &tag.rest[tag.rest.find(name).map_or(0, |i| i + name.len())..];
        let end = after.starts_with('<').then(|| after.lines().next().and_then(|line| line.rfind('>'))).flatten();
        let generics = end.map_or_else(Vec::new, |end| generics(source, in_file(&after[..=end])));
        let properties = tags[i + 1..].iter().take_while(|t| matches!(t.name, "property" | "prop"));
        let members: Vec<Member> = properties
            .filter_map(|t| {
                let (name, optional) = name_of(t)?;
                let range = t.ty.clone()?;
                let at = range.start as u32;
                Some(Member { name: name.to_owned(), ty: MemberType::Written(parse(source, range)?), optional, at })
            })
            .collect();
        let span = (at as u32, (at + comment.len()) as u32);
        if !members.is_empty() {
            let shape = Shape { members, ..Shape::default() };
            out.push((name, generics, Arc::new(TypeNode { kind: TypeKind::Object(Arc::new(shape)), span })));
        } else if let Some(node) = tag.ty.clone().and_then(|range| parse(source, range)) {
            out.push((name, generics, node));
        }
    }
    out
}

/// How long a text is up to the bracket that closes what opened before it.
fn bracketed(text: &str) -> usize {
    let mut depth = 0;
    let closes = |(_, c): &(usize, char)| {
        depth += match c {
            '[' => 1,
            ']' => -1,
            _ => 0,
        };
        depth < 0
    };
    text.char_indices().find(closes).map_or(text.len(), |(at, _)| at)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn tags_are_told_apart_with_their_types() {
        let source =
            "  /**\n   * A dial.\n   * @event {{ heat: number }} fire - it is hot\n   * @type {string}\n   * @slot {{}} [top]\n   */";
        let at = 2;
        let tags = tags(&source[at..], at);
        let told = tags.iter().map(|t| (t.name, t.ty.clone().map(|r| &source[r]), name_of(t)));
        assert_eq!(
            told.collect::<Vec<_>>(),
            [
                ("event", Some("{ heat: number }"), Some(("fire", false))),
                ("type", Some("string"), None),
                ("slot", Some("{}"), Some(("top", true)))
            ]
        );
        let node = parse(source, tags[0].ty.clone().expect("there")).expect("it is a type");
        assert!(matches!(node.kind, TypeKind::Object(_)));
        assert_eq!(&source[node.span.0 as usize..node.span.1 as usize], "{ heat: number }");
        assert!(parse(source, 0..3).is_none());
    }
}
