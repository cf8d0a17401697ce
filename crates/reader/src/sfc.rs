//! Single-file components: their blocks, and the slots that a template renders.

use std::cell::RefCell;
use std::ops::Range;

use fidelon_core::surface::Slot;
use html5ever::tokenizer::{BufferQueue, TagKind, Token, TokenSink, TokenSinkResult, Tokenizer, TokenizerOpts};

/// A `<script>` block.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Script<'a> {
    /// The text.
    pub text: &'a str,
    /// Where it stands in the file.
    pub at: Range<usize>,
    /// True for `<script setup>`.
    pub setup: bool,
    /// True for `lang="ts"` and `tsx`.
    pub typed: bool,
    /// Its type parameters, as `generic="T"` writes them.
    pub generics: Option<&'a str>,
}

/// The blocks of a component.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub struct Blocks<'a> {
    /// The scripts.
    pub scripts: Vec<Script<'a>>,
    /// The template.
    pub template: Option<&'a str>,
}

/// The pieces of a file at these places, all else blank: what is found in them stands where it stands in the file.
pub fn in_place(source: &str, pieces: &[Range<usize>]) -> String {
    let mut out = String::with_capacity(source.len());
    let blank = |text: &str, out: &mut String| out.extend(text.bytes().map(|b| if b == b'\n' { '\n' } else { ' ' }));
    let mut at = 0;
    for piece in pieces {
        blank(&source[at..piece.start], &mut out);
        out.push_str(&source[piece.clone()]);
        at = piece.end;
    }
    blank(&source[at..], &mut out);
    out
}

/// The scripts of a file where they stand.
pub fn scripts_in_place(source: &str) -> String {
    in_place(source, &blocks(source).scripts.iter().map(|s| s.at.clone()).collect::<Vec<_>>())
}

/// Splits a file into its top-level blocks. Blocks of other kinds are passed over.
pub fn blocks(source: &str) -> Blocks<'_> {
    let mut out = Blocks::default();
    let mut at = 0;
    while let Some(open) = source[at..].find('<').map(|i| at + i) {
        let rest = &source[open + 1..];
        if rest.starts_with("!--") {
            at = source[open..].find("-->").map_or(source.len(), |i| open + i + 3);
            continue;
        }
        let name_end = rest.find(|c: char| !(c.is_ascii_alphanumeric() || c == '-')).unwrap_or(rest.len());
        let name = &rest[..name_end];
        let Some(tag_end) = tag_end(rest) else { break };
        let attributes = &rest[name_end..tag_end];
        let body = open + 1 + tag_end + 1;
        if name.is_empty() || attributes.ends_with('/') {
            at = body;
            continue;
        }
        let close = closing(source, body, name);
        let text = &source[body..close];
        match name {
            "script" => out.scripts.push(Script {
                text,
                at: body..close,
                setup: attributes.split_whitespace().any(|a| a == "setup" || a.starts_with("setup=")),
                typed: attributes.contains("\"ts\"") || attributes.contains("'ts'") || attributes.contains("tsx"),
                generics: attribute_of(attributes, "generic"),
            }),
            "template" if out.template.is_none() => out.template = Some(text),
            _ => {}
        }
        at = source[close..].find('>').map_or(source.len(), |i| close + i + 1);
    }
    out
}

/// The value of an attribute that is written in quotes.
pub fn attribute_of<'s>(attributes: &'s str, name: &str) -> Option<&'s str> {
    let (_, after) = attributes.split_once(&format!("{name}="))?;
    let quote = after.chars().next().filter(|c| matches!(c, '"' | '\''))?;
    after[1..].split(quote).next()
}

/// The offset of the `>` that ends a tag; quotes may hold one.
fn tag_end(rest: &str) -> Option<usize> {
    let mut quote = None;
    rest.char_indices().find_map(|(i, c)| {
        match (quote, c) {
            (None, '"' | '\'') => quote = Some(c),
            (Some(q), c) if c == q => quote = None,
            (None, '>') => return Some(i),
            _ => {}
        }
        None
    })
}

/// Where the end tag of a block starts: templates nest, the others do not.
fn closing(source: &str, from: usize, name: &str) -> usize {
    let (open_tag, close_tag) = (format!("<{name}"), format!("</{name}"));
    let mut depth = 1;
    let mut at = from;
    loop {
        let Some(close) = source[at..].find(&close_tag).map(|i| at + i) else { return source.len() };
        if name == "template" {
            depth += source[at..close].matches(&open_tag).count();
        }
        depth -= 1;
        if depth == 0 {
            return close;
        }
        at = close + close_tag.len();
    }
}

/// The slots that a template renders, in its order: `<slot name="caption" :reading="reading"/>`. Those with a computed
/// name are not known from source and left out.
pub fn slots(template: &str) -> Vec<Slot> {
    slots_within(template, VUE)
}

/// How a framework writes its templates.
#[derive(Debug, Clone, Copy)]
pub struct Dialect {
    /// What an expression stands between.
    pub marks: (&'static str, &'static str),
    /// The tag of a slot.
    pub tag: &'static str,
    /// What a slot is named by, from its attributes; none when its name is computed.
    pub read: fn(&[(&str, &str)]) -> Option<Slot>,
}

/// Vue's templates.
const VUE: Dialect = Dialect { marks: ("{{", "}}"), tag: "slot", read: slot };
/// Svelte's markup: what is named as in Vue stands between single braces.
pub const SVELTE: Dialect = Dialect { marks: ("{", "}"), ..VUE };

/// The slots of a template of this dialect.
pub fn slots_within(template: &str, dialect: Dialect) -> Vec<Slot> {
    let tags = Tags { dialect, slots: RefCell::default(), within: RefCell::default() };
    let tokenizer = Tokenizer::new(tags, TokenizerOpts::default());
    let input = BufferQueue::default();
    input.push_back(without_expressions(template, dialect.marks).into());
    let _ = tokenizer.feed(&input);
    tokenizer.end();
    let mut out: Vec<Slot> = Vec::new();
    for found in tokenizer.sink.slots.into_inner() {
        match out.iter_mut().find(|s| s.name == found.name) {
            // A slot that stands in two places has no one fallback.
            Some(slot) => {
                slot.exposes |= found.exposes;
                slot.fallback = slot.fallback.take().filter(|text| found.fallback.as_ref() == Some(text));
            }
            None => out.push(found),
        }
    }
    out
}

/// What stands where an expression stood.
const EXPRESSION: char = '\u{1}';

/// Expressions may hold text that looks like a tag. They nest where their marks do.
fn without_expressions(template: &str, (open, close): (&str, &str)) -> String {
    let mut out = String::with_capacity(template.len());
    let mut rest = template;
    while let Some(start) = rest.find(open) {
        out.push_str(&rest[..start]);
        out.push(EXPRESSION);
        let mut depth = 1;
        let mut at = start + open.len();
        while depth > 0 {
            let (next_open, next_close) = (rest[at..].find(open), rest[at..].find(close));
            let Some(end) = next_close else { break };
            match next_open.filter(|n| *n < end) {
                Some(inner) => {
                    depth += 1;
                    at += inner + open.len();
                }
                None => {
                    depth -= 1;
                    at += end + close.len();
                }
            }
        }
        rest = if depth == 0 { &rest[at..] } else { "" };
    }
    out + rest
}

/// Hears the tags of a template (HTML §13.2.5) and keeps its slots with the text that is written in them.
struct Tags {
    dialect: Dialect,
    slots: RefCell<Vec<Slot>>,
    /// The slots whose fallback is being read, and its text so far; none for what is no slot to be kept.
    within: RefCell<Vec<(Option<usize>, String)>>,
}

impl TokenSink for Tags {
    type Handle = ();

    fn process_token(&self, token: Token, _: u64) -> TokenSinkResult<()> {
        let mut within = self.within.borrow_mut();
        match token {
            Token::TagToken(tag) if &*tag.name == self.dialect.tag && tag.kind == TagKind::StartTag => {
                let mut slots = self.slots.borrow_mut();
                let inside = within.iter().rev().find_map(|(at, _)| at.map(|at| slots[at].name.clone()));
                let attributes: Vec<(&str, &str)> = tag.attrs.iter().map(|a| (&*a.name.local, &*a.value)).collect();
                let found = (self.dialect.read)(&attributes);
                let at = found.is_some().then_some(slots.len());
                slots.extend(found.map(|found| Slot { inside, ..found }));
                if !tag.self_closing {
                    within.push((at, String::new()));
                }
            }
            Token::TagToken(tag) if &*tag.name == self.dialect.tag => {
                if let Some((Some(at), text)) = within.pop() {
                    let text = text.split_whitespace().collect::<Vec<_>>().join(" ");
                    self.slots.borrow_mut()[at].fallback = Some(text).filter(|t| !t.is_empty() && !t.contains(EXPRESSION));
                }
            }
            // What stands there under a condition is not always there.
            Token::TagToken(tag) if tag.attrs.iter().any(|a| is_conditional(&a.name.local)) => {
                if let Some((_, text)) = within.last_mut() {
                    text.push(EXPRESSION);
                }
            }
            Token::CharacterTokens(more) => {
                if let Some((_, text)) = within.last_mut() {
                    text.push_str(&more);
                }
            }
            _ => {}
        }
        TokenSinkResult::Continue
    }
}

/// Whether an attribute lets its element be there at times, or gives it other content than is written in it.
fn is_conditional(attribute: &str) -> bool {
    attribute.starts_with('*') || ["v-if", "v-else", "v-else-if", "v-for", "v-show", "v-text", "v-html"].contains(&attribute)
}

fn slot(attributes: &[(&str, &str)]) -> Option<Slot> {
    let mut slot = Slot::new("default");
    for (attribute, value) in attributes {
        match *attribute {
            "name" => slot.name = (*value).to_owned(),
            ":name" | "v-bind:name" => slot.name = quoted(value)?.to_owned(),
            "key" | ":key" | "ref" => {}
            a if a.starts_with("v-if") || a.starts_with("v-else") || a.starts_with("v-for") => {}
            _ => slot.exposes = true,
        }
    }
    Some(slot)
}

/// What an expression says that is one quoted text.
fn quoted(expression: &str) -> Option<&str> {
    let inner = |quote: char| expression.trim().strip_prefix(quote)?.strip_suffix(quote);
    inner('\'').or_else(|| inner('`')).filter(|t| !t.contains("${") && !t.contains('\''))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn blocks_and_slots() {
        let source = "<script setup lang=\"ts\">\nconst a = 1 < 2\n</script>\n<template>\n<template v-if=\"a > 1\"><slot name=\"caption\" :reading=\"r\">x</slot></template><slot/><slot v-if=\"a\" />\n</template>\n<style>.a{}</style>";
        let blocks = blocks(source);
        assert_eq!(
            blocks.scripts,
            [Script { text: "\nconst a = 1 < 2\n", at: blocks.scripts[0].at.clone(), setup: true, typed: true, generics: None }]
        );
        let template = blocks.template.expect("there");
        assert!(template.contains("caption") && template.contains("<slot/>"), "{template}");
        let caption = Slot { exposes: true, fallback: Some("x".into()), ..Slot::new("caption") };
        assert_eq!(slots(template), [caption, Slot::new("default")]);
    }

    #[test]
    fn fallbacks_are_known_where_the_source_tells() {
        let template = "<slot name=a><p>No  <b>reading</b> yet</p></slot><slot name=b>{{ reading }} now</slot><slot name=c><slot>None</slot></slot><slot name=d><b v-if=x>kiln</b></slot>";
        let slot = |name: &str, fallback: Option<&str>| Slot { fallback: fallback.map(str::to_owned), ..Slot::new(name) };
        let inner = Slot { inside: Some("c".into()), ..slot("default", Some("None")) };
        assert_eq!(slots(template), [slot("a", Some("No reading yet")), slot("b", None), slot("c", None), inner, slot("d", None)]);
    }
}
