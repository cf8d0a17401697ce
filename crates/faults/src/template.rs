//! Where a template can go wrong.

use std::ops::Range;
use std::sync::LazyLock;

use fidelon_reader::markup::{Attribute, Braces, Syntax, Tag, scan};
use oxc::span::SourceType;
use regex::Regex;

use crate::kinds::Kind;
use crate::{Fault, script};

/// The faults of a file of blocks: scripts, styles, and a template, which is what lies around them in Svelte.
pub(crate) fn of_blocks(source: &str, syntax: Syntax) -> Vec<Fault> {
    let found = scan(source, 0..source.len(), syntax);
    // A block lies in no other.
    let is_block = |tag: &&Tag| !found.tags.iter().any(|t| t.at != tag.at && t.at.start <= tag.at.start && tag.at.end <= t.at.end);
    let mut out = Vec::new();
    let mut taken: Vec<Range<usize>> = Vec::new();
    for tag in found.tags.iter().filter(is_block) {
        match &source[tag.name.clone()] {
            "script" => out.extend(script::of_script(source, tag.body.clone(), language(source, tag))),
            "style" => out.extend(of_style(source, tag.body.clone())),
            "template" if syntax == Syntax::Vue => {
                let is_markup = !tag.attributes.iter().any(|a| &source[a.name.clone()] == "lang");
                out.extend(is_markup.then(|| of_markup(source, tag.body.clone(), syntax)).into_iter().flatten());
            }
            _ => continue,
        }
        taken.push(tag.at.clone());
    }
    if syntax == Syntax::Svelte {
        let is_free = |at: &Range<usize>| !taken.iter().any(|t| t.start <= at.start && at.end <= t.end);
        out.extend(of_found(source, &found.tags, &found.braces, syntax).into_iter().filter(|f| is_free(&f.at)));
    }
    out
}

fn language(source: &str, tag: &Tag) -> SourceType {
    let lang = tag.attributes.iter().find(|a| &source[a.name.clone()] == "lang").and_then(|a| a.value.clone());
    match lang.map(|at| &source[at]) {
        Some("ts" | "typescript") => SourceType::ts(),
        Some("tsx") => SourceType::tsx(),
        _ => SourceType::jsx(),
    }
}

/// The faults of a template.
pub(crate) fn of_markup(source: &str, within: Range<usize>, syntax: Syntax) -> Vec<Fault> {
    let found = scan(source, within, syntax);
    of_found(source, &found.tags, &found.braces, syntax)
}

fn of_found(source: &str, tags: &[Tag], braces: &[Braces], syntax: Syntax) -> Vec<Fault> {
    let mut finder = Finder { source, syntax, out: Vec::new() };
    for tag in tags {
        finder.tag(tag);
    }
    for braces in braces {
        finder.braces(braces);
    }
    finder.out
}

/// Rules that say whether something is there or can be used.
static RULE: LazyLock<Regex> = LazyLock::new(|| {
    Regex::new(r"(?:^|[{;\s])((?:display|visibility|pointer-events|opacity|text-transform)\s*:[^;{}]*;?)").expect("it is an expression")
});

fn of_style(source: &str, within: Range<usize>) -> Vec<Fault> {
    let found = RULE.captures_iter(&source[within.clone()]).filter_map(|c| c.get(1));
    found.map(|m| Fault { kind: Kind::Style, at: within.start + m.start()..within.start + m.end(), put: String::new() }).collect()
}

struct Finder<'s> {
    source: &'s str,
    syntax: Syntax,
    out: Vec<Fault>,
}

/// What an attribute is.
enum Said {
    /// Whether the element is there, by an expression.
    Condition,
    /// A list, or what a slot hands over: nothing is tried there.
    Passed,
    Key,
    Class,
    /// What is heard.
    Listener,
    Binding,
    /// A value; true where it is an expression.
    Value(bool),
}

impl<'s> Finder<'s> {
    fn text(&self, at: &Range<usize>) -> &'s str {
        &self.source[at.clone()]
    }

    fn add(&mut self, kind: Kind, at: Range<usize>, put: impl Into<String>) {
        self.out.push(Fault { kind, at, put: put.into() });
    }

    /// What can go wrong within an expression.
    fn within(&mut self, at: Range<usize>) {
        self.out.extend(script::of_expression(self.source, at));
    }

    fn turn_round(&mut self, at: &Range<usize>) {
        let text = self.text(at).trim();
        if !text.is_empty() && !text.starts_with('!') {
            self.add(Kind::Condition, at.clone(), format!("!({text})"));
        }
    }

    fn tag(&mut self, tag: &Tag) {
        let name = self.text(&tag.name);
        let is_slot = matches!((self.syntax, name), (Syntax::Vue | Syntax::Svelte, "slot") | (Syntax::Angular, "ng-content"));
        if is_slot {
            let whole = self.text(&tag.at);
            self.add(Kind::SlotLost, tag.at.clone(), "");
            self.add(Kind::SlotTwice, tag.at.clone(), format!("{whole}{whole}"));
            if !self.text(&tag.body).trim().is_empty() {
                self.add(Kind::Fallback, tag.body.clone(), "");
            }
            return;
        }
        for attribute in &tag.attributes {
            self.attribute(attribute, name);
        }
    }

    fn said(&self, name: &str, tag: &str, in_braces: bool) -> Said {
        let is_part = tag.starts_with(char::is_uppercase) || tag.contains('-');
        match self.syntax {
            Syntax::Vue => match name {
                "v-if" | "v-else-if" | "v-show" => Said::Condition,
                "v-for" | "v-slot" | "v-else" | "v-pre" | "ref" | ":ref" | "is" | ":is" | "name" if name != "name" || tag == "slot" => {
                    Said::Passed
                }
                ":key" => Said::Key,
                "class" | ":class" => Said::Class,
                _ if name.starts_with("v-slot") || name.starts_with('#') => Said::Passed,
                _ if name.starts_with('@') || name.starts_with("v-on:") => Said::Listener,
                _ if name.starts_with("v-model") => Said::Binding,
                _ => Said::Value(name.starts_with(':') || name.starts_with("v-")),
            },
            Syntax::Svelte => match name {
                "class" => Said::Class,
                "slot" | "this" => Said::Passed,
                _ if name.starts_with("class:") => Said::Class,
                _ if name.starts_with("on:") || name.starts_with("on") && in_braces && name.len() > 2 => Said::Listener,
                "bind:this" => Said::Passed,
                _ if name.starts_with("bind:") => Said::Binding,
                _ if ["use:", "transition:", "in:", "out:", "animate:", "let:"].iter().any(|p| name.starts_with(p)) => Said::Passed,
                _ => Said::Value(in_braces),
            },
            Syntax::Angular => match name {
                "*ngIf" | "[hidden]" => Said::Condition,
                "class" | "[class]" | "[ngClass]" => Said::Class,
                "slot" | "select" => Said::Passed,
                _ if name.starts_with("[class.") => Said::Class,
                _ if name.starts_with("[(") => Said::Binding,
                _ if name.starts_with('(') => Said::Listener,
                _ if name.starts_with('*') || name.starts_with('#') || name.starts_with("i18n") || name.starts_with('@') => Said::Passed,
                _ => Said::Value(name.starts_with('[')),
            },
        }
        .unless_idle(name, is_part)
    }

    fn attribute(&mut self, attribute: &Attribute, tag: &str) {
        let name = self.text(&attribute.name);
        let value = attribute.value.clone();
        if name.is_empty() {
            // `{disabled}` and `{...rest}`.
            let inner = value.map_or("", |v| self.source[v].trim());
            let kind = if inner.starts_with("...") { Kind::Rest } else { Kind::Attribute };
            // What begins with `@` attaches something.
            if !inner.starts_with('@') {
                self.add(kind, attribute.at.clone(), "");
            }
            return;
        }
        let (kind, is_expression) = match self.said(name, tag, attribute.in_braces) {
            Said::Passed => return,
            Said::Condition => {
                if let Some(value) = value {
                    self.turn_round(&value);
                    self.within(value);
                }
                return;
            }
            Said::Key => (Kind::Key, false),
            Said::Class => (Kind::Class, name != "class" || attribute.in_braces),
            Said::Listener => {
                if let Some(dot) = name.find(['.', '|']).filter(|_| self.syntax != Syntax::Angular) {
                    self.add(Kind::Modifier, attribute.name.start + dot..attribute.name.end, "");
                }
                (Kind::Listener, true)
            }
            Said::Binding => (Kind::Binding, false),
            Said::Value(is_expression) => (Kind::Attribute, is_expression),
        };
        self.add(kind, attribute.at.clone(), "");
        if let Some(value) = value.filter(|_| is_expression) {
            self.within(value);
        }
    }

    fn braces(&mut self, braces: &Braces) {
        let inner = self.text(&braces.inner);
        let start = braces.inner.start;
        let part = |prefix: &str| {
            let rest = inner.strip_prefix(prefix)?;
            Some(start + prefix.len()..start + prefix.len() + rest.len())
        };
        let condition = match self.syntax {
            Syntax::Svelte => part("#if ").or_else(|| part(":else if ")),
            Syntax::Angular if self.text(&braces.at).starts_with('@') => {
                // `@if (user(); as u)`.
                let end = inner.find(';').map_or(braces.inner.end, |i| start + i);
                Some(start..end)
            }
            _ => None,
        };
        if let Some(condition) = condition {
            self.turn_round(&condition);
            self.within(condition);
            return;
        }
        if let Some(rest) = part("#each ").filter(|_| self.syntax == Syntax::Svelte) {
            // `{#each xs as x (x.id)}`: the key.
            let text = self.text(&rest);
            if let Some(open) = text.rfind(" (").filter(|_| text.trim_end().ends_with(')') && text.contains(" as ")) {
                self.add(Kind::Key, rest.start + open..rest.end, "");
            }
            return;
        }
        if let Some(rest) = part("@render ").filter(|_| self.syntax == Syntax::Svelte) {
            let whole = self.text(&braces.at);
            self.add(Kind::SlotLost, braces.at.clone(), "");
            self.add(Kind::SlotTwice, braces.at.clone(), format!("{whole}{whole}"));
            self.within(rest);
            return;
        }
        if self.syntax == Syntax::Svelte && inner.starts_with(['#', ':', '/', '@']) {
            return;
        }
        self.add(Kind::Output, braces.at.clone(), "");
        self.within(braces.inner.clone());
    }
}

impl Said {
    /// A text that only a machine of ours would miss is not left out of an element: `data-testid`, an id that nothing refers to.
    fn unless_idle(self, name: &str, is_part: bool) -> Self {
        const TOLD: [&str; 16] = [
            "role",
            "for",
            "disabled",
            "type",
            "required",
            "hidden",
            "alt",
            "title",
            "placeholder",
            "name",
            "href",
            "value",
            "checked",
            "open",
            "tabindex",
            "readonly",
        ];
        match self {
            Self::Value(false) if !is_part && !TOLD.contains(&name) && !name.starts_with("aria-") => Self::Passed,
            other => other,
        }
    }
}

#[cfg(test)]
mod tests {
    use crate::faults;
    use fidelon_core::surface::Framework;

    fn of(file: &str, source: &str) -> Vec<String> {
        let all = faults(Framework::Vue, file, "default", source);
        all.iter().map(|f| format!("{}: {} → {}", f.kind.name(), &source[f.at.clone()], f.put)).collect()
    }

    #[test]
    fn a_template_of_vue() {
        let source = "<script setup>\nconst a = 1\n</script>\n<template>\n<li v-if=\"hot\" :key=\"id\" @click.stop=\"go\" v-model=\"x\" data-a=\"b\"><slot>none</slot>{{ text }}</li>\n</template>\n<style scoped>\np { display: none; color: red }\n</style>\n";
        assert_eq!(
            of("A.vue", source),
            [
                "number: 1 → 2",
                "condition: hot → !(hot)",
                "key: :key=\"id\" → ",
                "listener: @click.stop=\"go\" → ",
                "modifier: .stop → ",
                "binding: v-model=\"x\" → ",
                "slot-lost: <slot>none</slot> → ",
                "slot-twice: <slot>none</slot> → <slot>none</slot><slot>none</slot>",
                "fallback: none → ",
                "output: {{ text }} → ",
                "style: display: none; → ",
            ]
        );
    }

    #[test]
    fn a_template_of_svelte() {
        let source = "<script>\nlet { a = 1, children } = $props()\n</script>\n{#if a > 1}<b class:on={a} onclick={() => go(a)} bind:value={v} {disabled}>{a}{@render children?.()}</b>{/if}\n{#each xs as x (x.id)}{x}{/each}";
        assert_eq!(
            of("A.svelte", source),
            [
                "default:  = 1 → ",
                "number: 1 → 2",
                "condition: a > 1 → !(a > 1)",
                "boundary: > → >=",
                "number: 1 → 2",
                "class: class:on={a} → ",
                "listener: onclick={() => go(a)} → ",
                "binding: bind:value={v} → ",
                "attribute: {disabled} → ",
                "output: {a} → ",
                "slot-lost: {@render children?.()} → ",
                "slot-twice: {@render children?.()} → {@render children?.()}{@render children?.()}",
                "key:  (x.id) → ",
                "output: {x} → ",
            ]
        );
    }

    #[test]
    fn what_is_no_component_has_no_faults() {
        assert_eq!(of("a.ts", "const ="), Vec::<String>::new());
        assert_eq!(of("a.vue", "<template>"), Vec::<String>::new());
        assert_eq!(of("a.html", "<p>x</p>"), Vec::<String>::new());
    }

    #[test]
    fn a_text_that_is_cut_anywhere_is_no_trouble() {
        let vue = "<script setup lang=\"ts\">\nconst größe = props.größe ?? 'ü'\n</script>\n<template>\n<p :class=\"{ 'ä': größe > 1 }\" @click.stop='los(\"ö\")'>{{ größe }}<slot name=ü>leer …</slot></p>\n</template>\n<style>p { display: none }</style>\n";
        let svelte = "<script>\nlet { größe = 'ü', children } = $props()\n</script>\n{#if größe === '}'}<b {größe} class=\"ä {größe ? \"ö\" : ''} ü\" onclick={() => los('{')} {...rest}>{größe}{@render children?.()}</b>{/if}";
        let angular = "@if (größe() && (ä)) { <i [ö]=\"größe\" (los)=\"go('ü')\">{{ größe | date }}</i> } @else if (ß) { }";
        for (file, framework, source) in
            [("a.vue", Framework::Vue, vue), ("a.svelte", Framework::Svelte, svelte), ("a.html", Framework::Angular, angular)]
        {
            for cut in (0..=source.len()).filter(|at| source.is_char_boundary(*at)) {
                for part in [&source[..cut], &source[cut..]] {
                    for fault in faults(framework, file, "default", part) {
                        assert!(fault.in_source(part).len() + fault.at.len() == part.len() + fault.put.len(), "{file} at {cut}");
                    }
                }
            }
        }
    }
}
