//! The children that a component's source shows, with what it passes to each: as it is written, nothing is run.

use std::collections::HashMap;
use std::ops::Range;
use std::path::{Path, PathBuf};

use fidelon_core::surface::{Framework, Passed, PassedAs};
use fidelon_source::{Files, Place, place_of};
use oxc::ast::ast::{JSXAttributeItem, JSXAttributeName, JSXElementName, JSXOpeningElement};
use oxc::ast_visit::{Visit, walk};

use crate::markup::{Attribute, Syntax, Tag, scan};
use crate::program::{Imports, Opened, Script, Sources, source_type, with_script};
use crate::{sfc, svelte};

/// A child, as a parent uses it in one place.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Use {
    /// What the parent calls it.
    pub name: String,
    /// The file that it comes from.
    pub file: PathBuf,
    /// The export of that file.
    pub export: String,
    /// What is passed, but for what HTML knows.
    pub passed: Vec<Passed>,
}

/// Where the children of a file come from: by the name that it calls them, the file and the export.
type Children = HashMap<String, (PathBuf, String)>;

/// The children that a component shows, in the order of its source. Vue's and Svelte's files and JSX are read; compilers of other frameworks
/// refuse what a child does not declare.
pub fn uses(files: &dyn Files, imports: &dyn Imports, path: &Path, shown: &str, framework: Framework, source: &str) -> Vec<Use> {
    let opened = Opened::default();
    let sources = Sources { files, imports, opened: &opened };
    let syntax = match path.extension().and_then(|e| e.to_str()) {
        Some("vue") => Syntax::Vue,
        Some("svelte") => Syntax::Svelte,
        _ if framework.record().passes_all_as_props => {
            let read = with_script(sources, path, source, source_type(path), |script| {
                let mut found = Jsx { source, shown, children: children(script), out: Vec::new() };
                found.visit_program(script.program);
                found.out
            });
            return read.unwrap_or_default();
        }
        _ => return Vec::new(),
    };
    let scripts = if syntax == Syntax::Vue { sfc::scripts_in_place(source) } else { svelte::scripts_in_place(source) };
    let kind = if source.contains("lang=\"ts") || source.contains("lang='ts") { "a.ts" } else { "a.js" };
    let children = with_script(sources, path, &scripts, source_type(Path::new(kind)), children).unwrap_or_default();
    let within = match (syntax, sfc::blocks(source).template) {
        (Syntax::Vue, Some(template)) => {
            let start = template.as_ptr() as usize - source.as_ptr() as usize;
            start..start + template.len()
        }
        (Syntax::Vue, None) => return Vec::new(),
        _ => 0..source.len(),
    };
    Template { source, shown, syntax }.uses(within, &children)
}

/// What a script imports from files that hold components.
fn children(script: &Script<'_>) -> Children {
    let of = |(local, (module, there)): (&&str, &(&str, &str))| {
        let file = script.file_beside(module).or_else(|| script.file_beside(&format!("{module}.jsx")))?;
        (*there != "*").then(|| ((*local).to_owned(), (file, (*there).to_owned())))
    };
    script.imports.iter().filter_map(of).collect()
}

fn place(source: &str, shown: &str, at: usize) -> Place {
    let (line, column) = place_of(source, at);
    Place { file: shown.to_owned(), line, column }
}

/// Names that mean something to a framework or to HTML whatever a child declares.
fn is_known(kind: PassedAs, name: &str) -> bool {
    let of_frameworks = ["key", "ref", "is", "children", "class", "className", "style", "slot"];
    match kind {
        PassedAs::Slot => false,
        PassedAs::Listener => LISTENED.contains(&name),
        PassedAs::Prop | PassedAs::Model => {
            let of_html = fidelon_types::attribute(name).is_some() && !name.starts_with("on");
            of_html || of_frameworks.contains(&name) || name.starts_with("data-") || LISTENED.iter().any(|event| is_listener(name, event))
        }
    }
}

/// `onClick`, `onclick`
fn is_listener(name: &str, event: &str) -> bool {
    name.strip_prefix("on").is_some_and(|rest| rest.eq_ignore_ascii_case(event))
}

/// Events of the page that a listener on a child may be for (UI Events, HTML, Pointer Events).
const LISTENED: [&str; 34] = [
    "abort",
    "animationend",
    "auxclick",
    "beforeinput",
    "blur",
    "change",
    "click",
    "contextmenu",
    "copy",
    "cut",
    "dblclick",
    "drag",
    "drop",
    "error",
    "focus",
    "focusin",
    "focusout",
    "input",
    "keydown",
    "keypress",
    "keyup",
    "load",
    "mousedown",
    "mouseenter",
    "mouseleave",
    "mousemove",
    "mouseout",
    "mouseover",
    "mouseup",
    "paste",
    "scroll",
    "submit",
    "toggle",
    "wheel",
];

struct Jsx<'s> {
    source: &'s str,
    shown: &'s str,
    children: Children,
    out: Vec<Use>,
}

impl<'a> Visit<'a> for Jsx<'_> {
    fn visit_jsx_opening_element(&mut self, element: &JSXOpeningElement<'a>) {
        walk::walk_jsx_opening_element(self, element);
        let JSXElementName::IdentifierReference(id) = &element.name else { return };
        let Some((file, export)) = self.children.get(id.name.as_str()).cloned() else { return };
        let passed = element.attributes.iter().filter_map(|attribute| {
            let JSXAttributeItem::Attribute(attribute) = attribute else { return None };
            let JSXAttributeName::Identifier(name) = &attribute.name else { return None };
            let place = place(self.source, self.shown, name.span.start as usize);
            (!is_known(PassedAs::Prop, &name.name)).then(|| Passed { kind: PassedAs::Prop, name: name.name.to_string(), place })
        });
        let passed = passed.collect();
        self.out.push(Use { name: id.name.to_string(), file, export, passed });
    }
}

struct Template<'s> {
    source: &'s str,
    shown: &'s str,
    syntax: Syntax,
}

impl Template<'_> {
    fn text(&self, at: &Range<usize>) -> &str {
        &self.source[at.clone()]
    }

    fn uses(&self, within: Range<usize>, children: &Children) -> Vec<Use> {
        let found = scan(self.source, within, self.syntax);
        let mut out: Vec<(&Tag, Use)> = Vec::new();
        for tag in &found.tags {
            let written = self.text(&tag.name);
            let child = children.get(written).map(|c| (written.to_owned(), c)).or_else(|| {
                let name = pascal(written);
                (self.syntax == Syntax::Vue && written.contains('-')).then(|| children.get(&name).map(|c| (name, c))).flatten()
            });
            if let Some((name, (file, export))) = child {
                let passed = tag.attributes.iter().filter_map(|a| self.passed(a)).collect();
                out.push((tag, Use { name, file: file.clone(), export: export.clone(), passed }));
            }
        }
        // What stands right in a child may say which of its slots it is for.
        for (tag, slot) in found.tags.iter().filter_map(|tag| Some((tag, self.slot(tag)?))) {
            let around = found.tags.iter().filter(|t| t.body.start <= tag.at.start && tag.at.end <= t.body.end && t.at != tag.at);
            let parent = around.min_by_key(|t| t.body.len());
            if let Some((_, child)) = out.iter_mut().find(|(t, _)| parent.is_some_and(|parent| parent.at == t.at)) {
                child.passed.push(slot);
            }
        }
        out.into_iter().map(|(_, child)| child).collect()
    }

    fn of(&self, kind: PassedAs, name: &str, at: usize) -> Option<Passed> {
        let is_name = name.starts_with(|c: char| c.is_alphabetic()) && name.chars().all(|c| c.is_alphanumeric() || matches!(c, '-' | '_'));
        (is_name && !is_known(kind, name)).then(|| Passed { kind, name: name.to_owned(), place: place(self.source, self.shown, at) })
    }

    fn passed(&self, attribute: &Attribute) -> Option<Passed> {
        let (name, at) = (self.text(&attribute.name), attribute.at.start);
        if self.syntax == Syntax::Svelte {
            return match name.split_once(':') {
                Some(("bind", "this")) => None,
                Some(("bind", name)) => self.of(PassedAs::Model, name, at),
                Some(("on", name)) => self.of(PassedAs::Listener, name.split('|').next()?, at),
                Some(_) => None,
                None if name.is_empty() => self.of(PassedAs::Prop, self.text(attribute.value.as_ref()?).trim(), at),
                None => self.of(PassedAs::Prop, name, at),
            };
        }
        let bare = |name: &str| name.split('.').next().unwrap_or_default().to_owned();
        let within = |prefix: &str| name.strip_prefix(prefix).map(bare);
        if let Some(name) = within("v-model:") {
            return self.of(PassedAs::Model, &name, at);
        }
        if let Some(name) = within("@").or_else(|| within("v-on:")) {
            return self.of(PassedAs::Listener, name.strip_prefix("update:").unwrap_or(&name), at).filter(|_| !name.contains(':'));
        }
        if let Some(name) = within("#").or_else(|| within("v-slot:")) {
            return self.of(PassedAs::Slot, &name, at);
        }
        if name.starts_with("v-") && !name.starts_with("v-bind:") {
            return None;
        }
        let name = within(":").or_else(|| within("v-bind:")).unwrap_or_else(|| name.to_owned());
        self.of(PassedAs::Prop, &name, at)
    }

    /// The slot that an element right in a child is for, if it says so.
    fn slot(&self, tag: &Tag) -> Option<Passed> {
        tag.attributes.iter().find_map(|attribute| match (self.syntax, self.text(&attribute.name), &attribute.value) {
            (Syntax::Vue, name, _) if name.starts_with('#') || name.starts_with("v-slot:") => self.passed(attribute),
            (Syntax::Svelte, "slot", Some(value)) => self.of(PassedAs::Slot, self.text(value), attribute.at.start),
            _ => None,
        })
    }
}

/// `kiln-dial` → `KilnDial`
fn pascal(name: &str) -> String {
    let word = |word: &str| {
        let mut letters = word.chars();
        letters.next().into_iter().flat_map(char::to_uppercase).chain(letters).collect::<String>()
    };
    name.split('-').map(word).collect()
}

#[cfg(test)]
mod tests {
    use fidelon_source::MemoryFiles;

    use super::*;
    use crate::NoImports;

    fn said(file: &str, framework: Framework, source: &str) -> Vec<String> {
        let child = if file.ends_with(".tsx") { "/p/KilnDial.tsx" } else { "/p/KilnDial.vue" };
        let files = MemoryFiles::default().with(child, "").with("/p/Dial.svelte", "");
        let found = uses(&files, &NoImports, Path::new(file), "Panel", framework, source);
        let passed = |p: &Passed| format!("{:?} {} {}:{}", p.kind, p.name, p.place.line, p.place.column);
        found.iter().map(|u| format!("{} {}: {}", u.name, u.export, u.passed.iter().map(passed).collect::<Vec<_>>().join(", "))).collect()
    }

    #[test]
    fn templates_of_vue() {
        let source = "<script setup>\nimport KilnDial from './KilnDial.vue'\nimport { ref } from 'vue'\n</script>\n<template>\n<kiln-dial :finish=\"t\" v-model:unit=\"u\" label @target-settled=\"x\" @click.stop=\"y\" class=\"z\" v-if=\"a\" :[b]=\"c\"><template #footer=\"{ d }\"><p #no></p></template></kiln-dial><p :other=\"e\"></p></template>";
        assert_eq!(
            said("/p/Panel.vue", Framework::Vue, source),
            ["KilnDial default: Prop finish 6:12, Model unit 6:24, Listener target-settled 6:47, Slot footer 6:121"]
        );
    }

    #[test]
    fn markup_of_svelte() {
        let source = "<script>\n  import Dial from './Dial.svelte'\n</script>\n<Dial {unit} finish={3} bind:heat on:settled|once={x} on:click {...rest} --c=\"d\"><p slot=\"foot\">x</p></Dial>";
        assert_eq!(
            said("/p/Panel.svelte", Framework::Svelte, source),
            ["Dial default: Prop unit 4:7, Prop finish 4:14, Model heat 4:25, Listener settled 4:35, Slot foot 4:85"]
        );
    }

    #[test]
    fn elements_of_jsx() {
        let source = "import { KilnDial as Dial } from './KilnDial'\nexport const Panel = () => <><Dial key=\"a\" finish={3} onSettled={x} onClick={y} {...z}><p bad=\"b\" /></Dial></>";
        assert_eq!(said("/p/Panel.tsx", Framework::React, source), ["Dial KilnDial: Prop finish 2:44, Prop onSettled 2:55"]);
    }
}
