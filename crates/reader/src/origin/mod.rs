//! Where an element of a document was written: the tag of a template or of JSX that made it. No framework says so, and a compiler that
//! does says it of one kind of build; so it is found by what both show, the tag and what stands around it, and told where one alone fits.

pub mod declared;
mod written;

use std::path::Path;

use fidelon_core::trace::{ElementTrace, TracedElement};
use fidelon_source::{Place, place_of};

pub use written::{WrittenTag, written};

/// A source in which an element may have been written.
#[derive(Debug)]
pub struct Written {
    /// Its file, as results name it.
    shown: String,
    source: String,
    /// The script beside a template.
    script: String,
    tags: Vec<WrittenTag>,
}

impl Written {
    /// The tags of a file. `script` is that of a template which is a file of its own.
    pub fn new(path: &Path, shown: &str, source: String, script: String) -> Self {
        Self { shown: shown.to_owned(), tags: written(path, &source), source, script }
    }

    /// Whether it is what stands in an element of this name: a selector, or what is registered, is a text of its script.
    fn is_of(&self, host: &str) -> bool {
        let quoted = |text: &str| ['\'', '"', '`'].iter().any(|quote| text.contains(&format!("{quote}{host}{quote}")));
        quoted(&self.script) || quoted(&self.source)
    }
}

/// A tag that may have made an element.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
struct Candidate {
    score: i32,
    file: usize,
    tag: usize,
}

/// The place of the tag that made an element, in one of several sources. The first are the component's own: of tags that say as much,
/// theirs counts.
pub fn find(trace: &ElementTrace, sources: &[&Written]) -> Option<Place> {
    let mut best: Vec<Candidate> = Vec::new();
    let host = trace.elements.iter().skip(1).find(|element| element.tag.contains('-'));
    for (file, source) in sources.iter().enumerate() {
        let is_of_host = host.is_some_and(|host| source.is_of(&host.tag));
        for tag in 0..source.tags.len() {
            let Some(score) = score(trace, source, tag, is_of_host) else { continue };
            let candidate = Candidate { score, file, tag };
            match best.first() {
                Some(first) if first.score > score => {}
                Some(first) if first.score == score => best.push(candidate),
                _ => best = vec![candidate],
            }
        }
    }
    let file = best.first()?.file;
    best.retain(|candidate| candidate.file == file);
    let found = match best[..] {
        [only] => only,
        // As many tags as elements that are alike: they stand in the same order.
        [..] if best.len() == trace.count => *best.get(trace.index)?,
        [..] => return None,
    };
    let source = sources[found.file];
    let (line, column) = place_of(&source.source, source.tags[found.tag].at);
    Some(Place { file: source.shown.clone(), line, column })
}

/// What it says of a tag that it stands in the template of the element around.
const OF_HOST: i32 = 6;

/// How much speaks for a tag; none where it cannot have made the element, or nothing says that it did.
fn score(trace: &ElementTrace, source: &Written, tag: usize, is_of_host: bool) -> Option<i32> {
    let (element, around) = trace.elements.split_first()?;
    let own = likeness(&source.tags[tag], element)?;
    // What it is written in stands around the element, maybe with more in between that others wrote.
    let mut outer = around.iter();
    let mut around = 0;
    let mut parent = source.tags[tag].parent;
    while let Some(at) = parent {
        let written = &source.tags[at];
        parent = written.parent;
        if written.is_component {
            continue;
        }
        match outer.by_ref().find_map(|element| likeness(written, element).filter(|likeness| *likeness >= 0)) {
            Some(likeness) => around += 1 + likeness.min(2),
            None => {
                around -= 3;
                break;
            }
        }
    }
    // What a directive put on an element of the template speaks against its tag, and not more than the template speaks for it.
    let (score, least) = if is_of_host { (own + around + OF_HOST, OF_HOST / 2) } else { (own + around, 0) };
    (score > least).then_some(score)
}

/// Attributes that tell elements apart: where a tag fixes one of them, its elements have it so.
const TELLING: [&str; 6] = ["id", "type", "role", "name", "href", "for"];

/// How like an element is to a tag; none where the tag cannot have made it.
fn likeness(tag: &WrittenTag, element: &TracedElement) -> Option<i32> {
    if !tag.name.eq_ignore_ascii_case(&element.tag) {
        return None;
    }
    let value_of = |name: &str| element.attributes.iter().find(|(n, _)| n.eq_ignore_ascii_case(name)).map(|(_, value)| value.as_str());
    let mut likeness = 0;
    for (name, value) in &tag.fixed {
        match value_of(name) {
            Some(has) if name == "class" => {
                let has: Vec<&str> = has.split_ascii_whitespace().collect();
                for class in value.split_ascii_whitespace() {
                    if !has.contains(&class) {
                        return None;
                    }
                    likeness += 2;
                }
            }
            Some(has) if has.trim() == value.trim() => likeness += if name == "id" { 4 } else { 2 },
            Some(_) if TELLING.contains(&name.as_str()) => return None,
            Some(_) => likeness -= 2,
            None if name == "class" || TELLING.contains(&name.as_str()) => return None,
            // Directives and frameworks take attributes for themselves.
            None => likeness -= 1,
        }
    }
    let is_bound = |name: &str| tag.spreads || tag.bound.iter().any(|bound| bound.eq_ignore_ascii_case(name));
    for (name, value) in &element.attributes {
        let is_fixed = tag.fixed.iter().any(|(n, _)| n.eq_ignore_ascii_case(name));
        match name.as_str() {
            _ if is_generated(name) => {}
            "class" if !is_bound("class") => {
                let fixed = tag.fixed.iter().find(|(n, _)| n == "class").map_or("", |(_, value)| value.as_str());
                let fixed: Vec<&str> = fixed.split_ascii_whitespace().collect();
                let is_told = |class: &str| fixed.contains(&class) || ["svelte-", "ng-"].iter().any(|of| class.starts_with(of));
                likeness -= i32::from(!value.split_ascii_whitespace().all(is_told)) * 2;
            }
            _ if is_fixed => {}
            _ if is_bound(name) => likeness += i32::from(!tag.spreads),
            _ => likeness -= 1,
        }
    }
    if let Some(text) = &tag.text {
        likeness += if *text == element.text { 3 } else { -1 };
    }
    Some(likeness)
}

/// Attributes that compilers put on elements.
fn is_generated(name: &str) -> bool {
    ["data-v-", "_ng", "ng-", "style"].iter().any(|of| name.starts_with(of))
}

#[cfg(test)]
mod tests {
    use fidelon_dom::{Document, parse};

    use super::*;

    /// Where the elements that a selector of tag and class finds in a document were written.
    fn places(document: &str, tag: &str, sources: &[(&str, &str)]) -> Vec<String> {
        let doc: Document = parse::document(document);
        let sources: Vec<Written> =
            sources.iter().map(|(file, source)| Written::new(Path::new(file), file, (*source).to_owned(), String::new())).collect();
        let sources: Vec<&Written> = sources.iter().collect();
        let all = doc.composed_descendants(doc.body().expect("there")).filter(|n| doc.local_name(*n) == Some(tag));
        let traces = all.map(|n| ElementTrace::of(&doc, n).expect("an element"));
        traces.map(|t| find(&t, &sources).map_or("nowhere".into(), |p| format!("{}:{}:{}", p.file, p.line, p.column))).collect()
    }

    #[test]
    fn an_element_is_found_by_its_tag_in_the_language_of_each_framework() {
        let shown = "<div class='kiln'><button class='raise hot' type='button' title='21'>Raise</button><input class='heat'></div>";
        let sources = [
            (
                "A.vue",
                "<script setup>\nconst t = 1\n</script>\n<template>\n<div class=\"kiln\">\n<button class=\"raise\" :class=\"{ hot }\" type=\"button\" :title=\"t\" @click=\"x\">Raise</button>\n<input class=\"heat\" v-model=\"t\" />\n</div></template>",
                "A.vue:6:1",
            ),
            (
                "A.svelte",
                "<div class=\"kiln\">\n<button class=\"raise\" class:hot type=\"button\" title={t} on:click={() => x}>Raise</button>\n<input class=\"heat\" bind:value={t} /></div>",
                "A.svelte:2:1",
            ),
            (
                "A.tsx",
                "export const A = ({ t }: { t: Array<string> }) => (\n <div className=\"kiln\">\n  <button className={`raise ${t}`} type=\"button\" title={t} onClick={x}>Raise</button>\n  <input className=\"heat\" /></div>)",
                "A.tsx:3:3",
            ),
            (
                "a.component.html",
                "<div class=\"kiln\">\n<button class=\"raise\" [class.hot]=\"h\" type=\"button\" [attr.title]=\"t\" (click)=\"x()\">Raise</button>\n<input class=\"heat\" [(ngModel)]=\"t\"></div>",
                "a.component.html:2:1",
            ),
            (
                "a.ts",
                "@Component({ template: `<div class=\"kiln\">\n<button class=\"raise\" [ngClass]=\"h\" type=\"button\" title=\"{{ t }}\">Raise</button></div>` })\nclass A { list: Array<string> = [] }",
                "a.ts:2:1",
            ),
            (
                "a.js",
                "render() { return html`<div class=\"kiln\">\n <button class=\"raise ${h}\" type=\"button\" .title=${t} @click=${x}>Raise</button></div>` }",
                "nowhere",
            ),
        ];
        for (file, source, place) in sources {
            assert_eq!(places(shown, "button", &[(file, source)]), [place], "{file}");
        }
        let element = format!("class A {{ {} }}", sources[5].1);
        assert_eq!(places(shown, "button", &[("a.js", &element)]), ["a.js:2:2"], "what parses");
    }

    #[test]
    fn the_one_that_fits_best_is_told_and_none_where_several_fit() {
        let own = "<template><nav><a href=\"#\" class=\"link\">Glaze</a><a href=\"#\" class=\"link\">Clay</a></nav><b v-for=\"t in all\">{{ t }}</b><i></i><i></i></template>";
        let shown = "<nav><a href='#' class=link>Glaze</a><a href='#' class=link>Clay</a></nav><b>1</b><b>2</b><i></i><i></i><i></i>";
        assert_eq!(places(shown, "a", &[("A.vue", own)]), ["A.vue:1:16", "A.vue:1:50"], "by their texts");
        assert_eq!(places(shown, "b", &[("A.vue", own)]).len(), 2);
        assert_eq!(places(shown, "i", &[("A.vue", own)]), ["nowhere"; 3], "which of the two it is cannot be known");
        let pair = "<template><p class=\"a\"><i></i><i></i></p></template>";
        assert_eq!(places("<p class=a><i></i><i></i></p>", "i", &[("A.vue", pair)]), ["A.vue:1:24", "A.vue:1:31"], "by their order");
    }

    #[test]
    fn a_part_is_found_in_the_file_of_the_part() {
        let page = "<template><main class=\"studio\"><KilnButton label=\"x\" /><button class=\"plain\">Close</button></main></template>";
        let part = "<template>\n<button class=\"kiln-button\" :aria-label=\"label\"><slot /></button></template>";
        let shown = "<main class=studio><button class=kiln-button aria-label=x></button><button class=plain>Close</button></main>";
        assert_eq!(places(shown, "button", &[("Page.vue", page), ("KilnButton.vue", part)]), ["KilnButton.vue:2:1", "Page.vue:1:56"]);
        assert_eq!(places(shown, "button", &[("Page.vue", page)])[0], "nowhere");
        let other = "@Component({ selector: 'kiln-page', template: `<i class=\"mark big\"></i>` }) class A {}";
        let host = "@Component({ selector: 'kiln-mark', template: `<i class=\"mark\" [kilnBig]=\"b\"></i>` }) class B {}";
        let found =
            places("<kiln-page><kiln-mark><i class='mark big'></i></kiln-mark></kiln-page>", "i", &[("a.ts", other), ("b.ts", host)]);
        assert_eq!(found, ["b.ts:1:48"], "in the element that it stands in, whatever a directive made of it");
        assert_eq!(places("<ul><li class='from package'></li></ul>", "li", &[("Page.vue", page)]), ["nowhere"]);
    }
}
