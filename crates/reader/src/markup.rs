//! Tags, attributes and expressions of a template, found where they stand. It is no parser of a framework's language: what it does not
//! know it passes over, and what comes of it is tried by the framework's own compiler.

use std::ops::Range;

/// How expressions are written.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Syntax {
    /// `{{ x }}`, `:a="x"`, `@a="x"`.
    Vue,
    /// `{x}`, `a={x}`, `{#if x}`.
    Svelte,
    /// `{{ x }}`, `[a]="x"`, `(a)="x"`, `@if (x) {`.
    Angular,
}

/// An attribute of a tag.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Attribute {
    /// The whole of it.
    pub at: Range<usize>,
    /// Its name.
    pub name: Range<usize>,
    /// What stands between its quotes or braces.
    pub value: Option<Range<usize>>,
    /// True where that is in braces.
    pub in_braces: bool,
}

/// An element.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Tag {
    /// Its name.
    pub name: Range<usize>,
    /// All of it, with its end tag.
    pub at: Range<usize>,
    /// Between its tags; empty where it has no end tag.
    pub body: Range<usize>,
    /// Its attributes.
    pub attributes: Vec<Attribute>,
}

/// What stands in braces, or between parentheses after a word of control.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Braces {
    /// With its braces.
    pub at: Range<usize>,
    /// Without.
    pub inner: Range<usize>,
}

/// What was found.
#[derive(Debug, Default)]
pub struct Markup {
    /// Elements, in the order of their start tags.
    pub tags: Vec<Tag>,
    /// Expressions outside of tags.
    pub braces: Vec<Braces>,
}

/// Elements whose text is no markup.
const RAW: [&str; 3] = ["script", "style", "textarea"];

/// Finds what stands in a part of a source.
pub fn scan(source: &str, within: Range<usize>, syntax: Syntax) -> Markup {
    let mut out = Markup::default();
    let mut open: Vec<usize> = Vec::new();
    let bytes = source.as_bytes();
    let mut at = within.start;
    while at < within.end {
        let rest = &source[at..within.end];
        if rest.starts_with("<!--") {
            at = rest.find("-->").map_or(within.end, |i| at + i + 3);
        } else if rest.starts_with("</") {
            let name_end = rest.find('>').unwrap_or(rest.len());
            let name = rest[2..name_end].trim();
            // What has no end tag of its own ends where its parent does.
            if let Some(place) = open.iter().rposition(|tag| &source[out.tags[*tag].name.clone()] == name) {
                let tag = &mut out.tags[open[place]];
                tag.body.end = at;
                tag.at.end = (at + name_end + 1).min(within.end);
                open.truncate(place);
            }
            at += (name_end + 1).min(rest.len());
        } else if bytes[at] == b'<' && rest[1..].starts_with(|c: char| c.is_ascii_alphabetic()) {
            let (tag, closed) = tag(source, at, within.end, syntax);
            at = tag.at.end;
            let name = &source[tag.name.clone()];
            if !closed && RAW.contains(&name) {
                let end = format!("</{name}");
                at = source[at..within.end].find(&end).map_or(within.end, |i| at + i);
            }
            if !closed {
                open.push(out.tags.len());
            }
            out.tags.push(tag);
        } else if let Some(found) = braces(source, at, within.end, syntax) {
            at = found.at.end;
            out.braces.push(found);
        } else {
            at += rest.chars().next().map_or(1, char::len_utf8);
        }
    }
    out
}

fn braces(source: &str, at: usize, end: usize, syntax: Syntax) -> Option<Braces> {
    let rest = &source[at..end];
    match syntax {
        Syntax::Svelte if rest.starts_with('{') => {
            let close = balanced(source, at, end)?;
            Some(Braces { at: at..close, inner: at + 1..close - 1 })
        }
        Syntax::Vue | Syntax::Angular if rest.starts_with("{{") => {
            let close = at + rest.find("}}")?;
            Some(Braces { at: at..close + 2, inner: at + 2..close })
        }
        Syntax::Angular if rest.starts_with("@if") || rest.starts_with("@else if") => {
            let open = at + rest.find('(')?;
            let close = balanced(source, open, end)?;
            Some(Braces { at: at..close, inner: open + 1..close - 1 })
        }
        _ => None,
    }
}

/// Where what opens here closes, past its end: texts in quotes hold no brackets.
fn balanced(source: &str, at: usize, end: usize) -> Option<usize> {
    let mut depth = 0usize;
    let mut quote = None;
    let mut escaped = false;
    for (i, c) in source[at..end].char_indices() {
        match (quote, c) {
            (Some(_), _) if escaped => escaped = false,
            (Some(_), '\\') => escaped = true,
            (Some(q), c) if c == q => quote = None,
            (Some(_), _) => {}
            (None, '"' | '\'' | '`') => quote = Some(c),
            (None, '{' | '(' | '[') => depth += 1,
            (None, '}' | ')' | ']') => {
                depth = depth.saturating_sub(1);
                if depth == 0 {
                    return Some(at + i + c.len_utf8());
                }
            }
            _ => {}
        }
    }
    None
}

/// The tag that begins here, and whether it closes itself. It ends where its start tag does: an end tag is not looked for.
fn tag(source: &str, start: usize, end: usize, syntax: Syntax) -> (Tag, bool) {
    let is_name = |c: char| !c.is_whitespace() && !matches!(c, '>' | '/' | '=');
    let name_end = source[start + 1..end].find(|c| !is_name(c)).map_or(end, |i| start + 1 + i);
    let mut out = Tag { name: start + 1..name_end, at: start..end, body: end..end, attributes: Vec::new() };
    let mut at = name_end;
    while at < end {
        let rest = &source[at..end];
        let Some(first) = rest.chars().next() else { break };
        if first.is_whitespace() {
            at += first.len_utf8();
        } else if rest.starts_with("/>") {
            out.at.end = at + 2;
            out.body = at + 2..at + 2;
            return (out, true);
        } else if first == '>' {
            out.at.end = at + 1;
            out.body = at + 1..at + 1;
            let is_void = matches!(&source[out.name.clone()], "input" | "br" | "hr" | "img" | "link" | "meta" | "source" | "wbr" | "col");
            return (out, is_void);
        } else if first == '{' && syntax == Syntax::Svelte {
            // What is never closed is no attribute.
            let Some(close) = balanced(source, at, end) else { break };
            out.attributes.push(Attribute { at: at..close, name: at..at, value: Some(at + 1..close - 1), in_braces: true });
            at = close;
        } else {
            let (attribute, next) = attribute(source, at, end, syntax);
            at = next;
            out.attributes.push(attribute);
        }
    }
    (out, true)
}

/// The attribute that begins here, and where what follows it begins.
fn attribute(source: &str, start: usize, end: usize, syntax: Syntax) -> (Attribute, usize) {
    let is_name = |c: char| !c.is_whitespace() && !matches!(c, '>' | '=');
    let mut name_end = source[start..end].find(|c| !is_name(c)).map_or(end, |i| start + i);
    if source[start..name_end].ends_with('/') && source[name_end..end].starts_with('>') {
        name_end -= 1;
    }
    let name_end = name_end.max(start + 1);
    let plain = Attribute { at: start..name_end, name: start..name_end, value: None, in_braces: false };
    let after = &source[name_end..end];
    let blank = after.len() - after.trim_start().len();
    if !after[blank..].starts_with('=') {
        return (plain, name_end);
    }
    let value = name_end + blank + 1;
    let value = value + (source[value..end].len() - source[value..end].trim_start().len());
    let (inner, close) = match source[value..end].chars().next() {
        Some('{') if syntax == Syntax::Svelte => match balanced(source, value, end) {
            Some(close) => (value + 1..close - 1, close),
            None => return (plain, end),
        },
        Some(quote @ ('"' | '\'')) => {
            let mut at = value + 1;
            // A text of Svelte may hold expressions, and these texts.
            while at < end && !source[at..end].starts_with(quote) {
                let step = source[at..end].chars().next().map_or(1, char::len_utf8);
                let inner = (syntax == Syntax::Svelte && source[at..end].starts_with('{')).then(|| balanced(source, at, end)).flatten();
                at = inner.unwrap_or(at + step);
            }
            (value + 1..at, (at + 1).min(end))
        }
        _ => {
            let close = source[value..end].find(|c: char| c.is_whitespace() || c == '>').map_or(end, |i| value + i);
            (value..close, close)
        }
    };
    let in_braces = syntax == Syntax::Svelte && source[value..end].starts_with('{');
    (Attribute { at: start..close, value: Some(inner), in_braces, ..plain }, close)
}

#[cfg(test)]
mod tests {
    use super::*;

    fn told(source: &str, syntax: Syntax) -> (Vec<String>, Vec<String>) {
        let found = scan(source, 0..source.len(), syntax);
        let attribute = |a: &Attribute| format!("{}={}", &source[a.name.clone()], a.value.clone().map_or("", |v| &source[v]));
        let tag = |t: &Tag| {
            let attributes: Vec<String> = t.attributes.iter().map(attribute).collect();
            format!("{} [{}] {}", &source[t.name.clone()], attributes.join(" "), &source[t.body.clone()])
        };
        (found.tags.iter().map(tag).collect(), found.braces.iter().map(|b| source[b.inner.clone()].trim().to_owned()).collect())
    }

    #[test]
    fn tags_and_what_stands_in_them() {
        let (tags, braces) = told("<p :class=\"{ a: b > 1 }\" @click.prevent='go'>{{ x }}<br><slot name=a>none</slot></p>", Syntax::Vue);
        assert_eq!(tags, ["p [:class={ a: b > 1 } @click.prevent=go] {{ x }}<br><slot name=a>none</slot>", "br [] ", "slot [name=a] none"]);
        assert_eq!(braces, ["x"]);
    }

    #[test]
    fn braces_hold_texts_and_braces() {
        let (tags, braces) = told(
            "{#if a === '}'}<b {title} class=\"a {b ? \"x\" : ''} c\" onclick={() => { go('{') }} {...rest}>{x}</b>{/if}",
            Syntax::Svelte,
        );
        assert_eq!(tags, ["b [=title class=a {b ? \"x\" : ''} c onclick=() => { go('{') } =...rest] {x}"]);
        assert_eq!(braces, ["#if a === '}'", "x", "/if"]);
    }

    #[test]
    fn control_flow_of_angular() {
        let (tags, braces) = told("@if (hot() && (a)) { <i (fired)=\"go($event)\" /> } @else if (b) { {{ c | date }} }", Syntax::Angular);
        assert_eq!(tags, ["i [(fired)=go($event)] "]);
        assert_eq!(braces, ["hot() && (a)", "b", "c | date"]);
    }

    #[test]
    fn what_is_never_closed_ends_somewhere() {
        for source in ["<", "<p", "<p a", "<p a=", "<p a='", "{", "{{", "<p {", "<!--", "</", "</p>", "<p>ü{x"] {
            for syntax in [Syntax::Vue, Syntax::Svelte, Syntax::Angular] {
                let found = scan(source, 0..source.len(), syntax);
                assert!(found.tags.iter().all(|t| t.at.end <= source.len() && t.body.start <= t.body.end), "{source}");
            }
        }
    }
}
