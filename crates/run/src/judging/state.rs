//! State that an application sets up first: a component that reads it alone finds nothing there, and is not what is broken.

use std::path::Path;
use std::sync::LazyLock;

use fidelon_core::judge::missing::{self, Missing};
use fidelon_source::{Bounds, Files as _, Place, ProjectFiles};
use regex::Regex;

/// What an error comes of for want of what an application sets up: a field of a module's own variable, or a name that a script of the page
/// gives to all.
pub(super) fn unset(root: &Path, place: Option<&Place>, text: &str) -> Option<Missing> {
    of_field(root, place, text).or_else(|| of_page(root, place, text))
}

/// A name that nothing gives, in a source that says of it that it is there: `declare const kilnMap: any`, `/* global kilnMap */`.
fn of_page(root: &Path, place: Option<&Place>, text: &str) -> Option<Missing> {
    let first = text.lines().next()?;
    let name = first.strip_prefix("ReferenceError: ")?.strip_suffix(" is not defined")?;
    let place = place.filter(|_| !root.as_os_str().is_empty())?;
    let source = ProjectFiles(Bounds::of(&[root])).read(&root.join(&place.file)).ok()?;
    let escaped = regex::escape(name);
    let says = |pattern: &str| Regex::new(&pattern.replace("NAME", &escaped)).is_ok_and(|r| r.is_match(&source));
    let is_known = says(r"\bdeclare\s+(?:const|let|var|function|class|namespace)\s+NAME(?:[^\w$]|$)")
        || says(r"/\*\s*globals?\b(?:[^*]*[^\w$*])?NAME[^\w$]");
    is_known.then(|| Missing {
        said: format!("`{name}` is not there, which a script of the page gives ({}:{})", place.file, place.line),
        remedy: "set it up as the page does, in a module that fidelon.toml names under `setup`",
    })
}

/// What an error comes of that says that something is nothing, where that is a field of a module's own variable: `app.events` in
/// `app.events.once(…)`, with `app` imported or declared at the top of a script that is no component.
fn of_field(root: &Path, place: Option<&Place>, text: &str) -> Option<Missing> {
    let is_nothing = missing::of_context(text).is_some() || text.lines().next().is_some_and(|line| line.ends_with("not a function"));
    let place = place.filter(|_| is_nothing && !root.as_os_str().is_empty())?;
    let source = ProjectFiles(Bounds::of(&[root])).read(&root.join(&place.file)).ok()?;
    let line = source.lines().nth(usize::try_from(place.line).ok()?.checked_sub(1)?)?;
    let is_component = [".vue", ".svelte"].iter().any(|ending| place.file.ends_with(ending));
    let chain = chain_at(line, usize::try_from(place.column).unwrap_or(1), property_of(text))?;
    let base = chain.split(['.', '?']).next()?;
    is_of_module(&source, base, is_component).then(|| Missing {
        said: format!("`{chain}` is nothing, which an application sets first ({}:{})", place.file, place.line),
        remedy: "set it up as the application does, in a module that fidelon.toml names under `setup`",
    })
}

/// The property that was asked of nothing: `once` in `cannot read property 'once' of undefined`.
fn property_of(text: &str) -> Option<&str> {
    let (_, rest) = text.lines().next()?.split_once("property '")?;
    rest.split('\'').next()
}

/// The names before the property in a line, nearest to a column: `app.events` of `app.events.once(…)`.
fn chain_at(line: &str, column: usize, property: Option<&str>) -> Option<String> {
    static CHAIN: LazyLock<Regex> =
        LazyLock::new(|| Regex::new(r"[A-Za-z_$][\w$]*(?:\??\.[A-Za-z_$][\w$]*)+").expect("the pattern is well-formed"));
    let found = CHAIN.find_iter(line).filter_map(|found| {
        let parts: Vec<&str> = found.as_str().split('.').collect();
        let end = match property {
            Some(property) => parts.iter().skip(1).position(|part| *part == property)? + 1,
            None => parts.len() - 1,
        };
        Some((found.start().abs_diff(column.saturating_sub(1)), parts[..end].join(".").replace('?', "")))
    });
    found.min().map(|(_, chain)| chain)
}

/// Whether a name is one of the module's own: imported, or declared at its top. What a component declares is each instance's.
fn is_of_module(source: &str, name: &str, is_component: bool) -> bool {
    let name = regex::escape(name);
    let imported = Regex::new(&format!(r"(?m)^\s*import\b[^;'\x22]*\b{name}\b[^;'\x22]*\bfrom\b")).is_ok_and(|r| r.is_match(source));
    let declared = || Regex::new(&format!(r"(?m)^(?:export\s+)?(?:const|let|var)\s+{name}\b")).is_ok_and(|r| r.is_match(source));
    imported || !is_component && declared()
}

#[cfg(test)]
mod tests {
    use super::*;

    fn said(file: &str, source: &str, line: u32, text: &str) -> Option<String> {
        let folder = tempfile::tempdir().expect("a folder");
        std::fs::write(folder.path().join(file), source).expect("written");
        let place = Place { file: file.into(), line, column: 3 };
        unset(folder.path(), Some(&place), text).map(|m| m.said)
    }

    #[test]
    fn what_a_module_holds_is_told_from_what_a_component_is_passed() {
        let text = "TypeError: cannot read property 'once' of undefined";
        let module = "const app = {};\nexport const ready = () => {\n  app.events.once('ready');\n  own.events.once('x');\n}\n";
        assert_eq!(said("app.js", module, 3, text).as_deref(), Some("`app.events` is nothing, which an application sets first (app.js:3)"));
        assert_eq!(said("app.js", module, 4, text), None, "it is no name of the module's");
        assert_eq!(said("app.js", module, 3, "Error: no kiln"), None);
        let component =
            "<script>\nimport { app } from './app.js'\nlet own = $props()\n  app.events.once('ready')\n  own.events.once('x')\n</script>";
        assert!(said("Dial.svelte", component, 4, text).is_some());
        assert_eq!(said("Dial.svelte", component, 5, text), None, "what it is passed is its own to guard");
        assert_eq!(said("Dial.svelte", component, 99, text), None);
    }

    #[test]
    fn a_name_that_a_script_of_the_page_gives_is_told_from_a_slip() {
        let text = "ReferenceError: kilnMap is not defined";
        let told = Some("`kilnMap` is not there, which a script of the page gives (map.ts:2)");
        assert_eq!(said("map.ts", "declare const kilnMap: any\nnew kilnMap.Map()", 2, text).as_deref(), told);
        assert!(said("Map.vue", "<script setup>\n/* global kilnMap, other */\nnew kilnMap.Map()\n</script>", 3, text).is_some());
        assert!(said("page.ts", "declare var $: any;\n$('#kiln')", 2, "ReferenceError: $ is not defined").is_some());
        assert_eq!(said("map.ts", "new kilnMap.Map()", 1, text), None, "a slip, whatever a type checker would say");
        assert_eq!(said("map.js", "new kilnMap.Map()", 1, text), None);
        assert_eq!(said("map.js", "/* global kilnMaps */ new kilnMap.Map()", 1, text), None);
        assert_eq!(said("map.ts", "new kilnMap.Map()", 1, "ReferenceError: kilnMap is not initialized"), None);
    }
}
