//! Whose JSX a file holds: what its tags compile to.

use std::path::{Path, PathBuf};

use serde_json::Value as Json;

use crate::resolve::Resolvers;

/// The package that JSX of a file compiles to calls of: `react`, `preact`, `solid-js`, `vue`. Told by the file's own pragma
/// (`@jsxImportSource`), by what it imports, by the nearest tsconfig, by what its package depends on.
pub fn import_source(path: &Path, source: &str, resolvers: &Resolvers) -> String {
    pragma(source)
        .or_else(|| imported(source))
        .or_else(|| resolvers.jsx_import_source(path))
        .or_else(|| depended_on(path))
        .unwrap_or_else(|| "react".to_owned())
}

fn pragma(source: &str) -> Option<String> {
    let (_, rest) = source.split_once("@jsxImportSource")?;
    Some(rest.split_whitespace().next()?.trim_end_matches("*/").to_owned())
}

/// Frameworks by the packages that only their components import.
const PACKAGES: [(&str, &str); 4] = [("react", "react"), ("solid-js", "solid-js"), ("preact", "preact"), ("vue", "vue")];

fn imported(source: &str) -> Option<String> {
    let found = source.match_indices("from").find_map(|(at, _)| {
        let rest = source[at + "from".len()..].trim_start();
        let module = rest.strip_prefix(['\'', '"'])?.split(['\'', '"']).next()?;
        let package = crate::resolve::package_of(module);
        PACKAGES.iter().find(|(name, _)| *name == package)
    })?;
    Some(found.1.to_owned())
}

/// The one of these packages that the nearest package.json which names any of them names; the first where it names several.
fn depended_on(path: &Path) -> Option<String> {
    path.ancestors().skip(1).map(|folder| folder.join("package.json")).find_map(|file| framework_of(&file))
}

fn framework_of(file: &PathBuf) -> Option<String> {
    let manifest: Json = serde_json::from_str(&std::fs::read_to_string(file).ok()?).ok()?;
    let names = ["dependencies", "peerDependencies", "devDependencies"];
    let depends = |package: &str| names.iter().any(|n| manifest.get(n).and_then(|d| d.get(package)).is_some());
    PACKAGES.iter().find(|(package, _)| depends(package)).map(|(_, name)| (*name).to_owned())
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_file_itself_tells() {
        let folder = tempfile::tempdir().expect("a folder");
        let write = |name: &str, text: &str| std::fs::write(folder.path().join(name), text).expect("written");
        let told = |source: &str| import_source(&folder.path().join("Dial.tsx"), source, &Resolvers::default());
        assert_eq!(told("export const Dial = () => <p/>"), "react");
        assert_eq!(told("import { createSignal } from 'solid-js'\nexport const Dial = () => <p/>"), "solid-js");
        assert_eq!(told("import { render } from \"solid-js/web\""), "solid-js");
        assert_eq!(told("/** @jsxImportSource preact */\nimport { useState } from 'react'"), "preact");
        write("package.json", r#"{ "dependencies": { "preact": "11" } }"#);
        assert_eq!(told("export const Dial = () => <p/>"), "preact");
        write("tsconfig.json", r#"{ "compilerOptions": { "jsx": "preserve", /* ours */ "jsxImportSource": "solid-js" } }"#);
        assert_eq!(told("export const Dial = () => <p/>"), "solid-js");
    }
}
