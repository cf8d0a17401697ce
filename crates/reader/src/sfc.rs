//! Single-file components: their blocks, and the slots that a template renders.

use fidelon_core::surface::Slot;

/// A `<script>` block.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Script<'a> {
    /// The text.
    pub text: &'a str,
    /// True for `<script setup>`.
    pub setup: bool,
    /// True for `lang="ts"` and `tsx`.
    pub typed: bool,
}

/// The blocks of a component.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub struct Blocks<'a> {
    /// The scripts.
    pub scripts: Vec<Script<'a>>,
    /// The template.
    pub template: Option<&'a str>,
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
                setup: attributes.split_whitespace().any(|a| a == "setup" || a.starts_with("setup=")),
                typed: attributes.contains("\"ts\"") || attributes.contains("'ts'") || attributes.contains("tsx"),
            }),
            "template" if out.template.is_none() => out.template = Some(text),
            _ => {}
        }
        at = source[close..].find('>').map_or(source.len(), |i| close + i + 1);
    }
    out
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

/// The slots that a template renders, in its order: `<slot name="caption" :reading="reading"/>`.
pub fn slots(template: &str) -> Vec<Slot> {
    let mut out: Vec<Slot> = Vec::new();
    for (at, _) in template.match_indices("<slot") {
        let rest = &template[at + 5..];
        if !rest.starts_with(|c: char| c.is_whitespace() || c == '/' || c == '>') {
            continue;
        }
        let attributes = tag_end(rest).map_or(rest, |end| &rest[..end]);
        let mut name = "default".to_owned();
        let mut exposes = false;
        for (attribute, value) in pairs(attributes) {
            match attribute {
                "name" => name = value.to_owned(),
                // A computed name is not known from source.
                ":name" | "v-bind:name" => name = String::new(),
                "key" | ":key" | "ref" => {}
                a if a.starts_with("v-if") || a.starts_with("v-else") || a.starts_with("v-for") => {}
                "" | "/" => {}
                _ => exposes = true,
            }
        }
        if name.is_empty() {
            continue;
        }
        match out.iter_mut().find(|s| s.name == name) {
            Some(slot) => slot.exposes |= exposes,
            None => out.push(Slot { name, exposes }),
        }
    }
    out
}

fn pairs(attributes: &str) -> Vec<(&str, &str)> {
    let mut out = Vec::new();
    let mut rest = attributes.trim();
    while !rest.is_empty() {
        let end = rest.find(|c: char| c.is_whitespace() || c == '=').unwrap_or(rest.len());
        let name = &rest[..end];
        rest = rest[end..].trim_start();
        let mut value = "";
        if let Some(after) = rest.strip_prefix('=') {
            let after = after.trim_start();
            match after.chars().next() {
                Some(q @ ('"' | '\'')) => {
                    let close = after[1..].find(q).map_or(after.len(), |i| i + 1);
                    value = &after[1..close.min(after.len())];
                    rest = after.get(close + 1..).unwrap_or("");
                }
                _ => {
                    let close = after.find(char::is_whitespace).unwrap_or(after.len());
                    value = &after[..close];
                    rest = &after[close..];
                }
            }
        }
        out.push((name, value));
        rest = rest.trim_start();
    }
    out
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn blocks_and_slots() {
        let source = "<script setup lang=\"ts\">\nconst a = 1 < 2\n</script>\n<template>\n<template v-if=\"a > 1\"><slot name=\"caption\" :reading=\"r\">x</slot></template><slot/><slot v-if=\"a\" />\n</template>\n<style>.a{}</style>";
        let blocks = blocks(source);
        assert_eq!(blocks.scripts, [Script { text: "\nconst a = 1 < 2\n", setup: true, typed: true }]);
        let template = blocks.template.expect("there");
        assert!(template.contains("caption") && template.contains("<slot/>"), "{template}");
        assert_eq!(slots(template), [Slot { name: "caption".into(), exposes: true }, Slot { name: "default".into(), exposes: false }]);
    }
}
