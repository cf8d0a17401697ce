//! Whose JSX a file holds: what its tags compile to.

use std::path::{Path, PathBuf};

use serde_json::Value as Json;

use crate::resolve::Resolvers;

/// The package that JSX of a file compiles to calls of: `react`, `preact`, `solid-js`, `vue`, or one that stands before one of them.
/// Told by the file's own pragma (`@jsxImportSource`), by what it imports, by the nearest tsconfig or what its package is built with, by
/// what its package depends on.
pub fn import_source(path: &Path, source: &str, resolvers: &Resolvers) -> String {
    let configured = || resolvers.jsx_import_source(path).or_else(|| built_with(path));
    let named = || match imported(source) {
        // One project may hold several frameworks: the import decides. A package that is none of them stands before the one that is
        // imported, and who configures it wants it everywhere.
        Some(framework) => configured().filter(|c| PACKAGES.iter().all(|(_, known)| known != c)).or(Some(framework)),
        None => configured(),
    };
    pragma(source).or_else(named).or_else(|| depended_on(path)).unwrap_or_else(|| "react".to_owned())
}

/// The framework whose components a file's JSX makes: `react`, `preact`, `solid-js`, `vue`. Where tags compile to calls of a package that
/// stands before a framework, it is the one that the file imports, or that its package depends on.
pub fn framework(path: &Path, source: &str, resolvers: &Resolvers) -> String {
    let compiled = import_source(path, source, resolvers);
    let of_its_own =
        PACKAGES.iter().find(|(package, _)| *package == crate::resolve::package_of(&compiled)).map(|(_, name)| (*name).to_owned());
    of_its_own.or_else(|| imported(source)).or_else(|| depended_on(path)).unwrap_or_else(|| "react".to_owned())
}

/// Files that say how a package is built, as far as its JSX is concerned.
const BUILDS: [&str; 10] = [
    "vite.config.ts",
    "vite.config.mts",
    "vite.config.js",
    "vite.config.mjs",
    ".babelrc",
    ".babelrc.json",
    "babel.config.json",
    "babel.config.js",
    "babel.config.cjs",
    "package.json",
];

/// What the build of the package of a file is told to compile tags to. It is read as text: nothing of a build is run.
fn built_with(path: &Path) -> Option<String> {
    let package = |folder: &&Path| folder.join("package.json").exists();
    let folder = path.ancestors().skip(1).find(package)?;
    BUILDS.iter().find_map(|name| option(&std::fs::read_to_string(folder.join(name)).ok()?))
}

/// The value of `jsxImportSource: '…'` or `importSource: '…'`.
fn option(config: &str) -> Option<String> {
    config.match_indices("mportSource").find_map(|(at, key)| {
        let rest = config[at + key.len()..].trim_start_matches(['\'', '"']).trim_start().strip_prefix(':')?.trim_start();
        let quote = rest.chars().next().filter(|c| ['\'', '"'].contains(c))?;
        rest[1..].split_once(quote).map(|(source, _)| source.to_owned())
    })
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
        assert_eq!(told("import { useState } from 'react'"), "react");
    }

    #[test]
    fn a_package_before_the_framework_is_configured() {
        let folder = tempfile::tempdir().expect("a folder");
        let write = |name: &str, text: &str| std::fs::write(folder.path().join(name), text).expect("written");
        let told = || import_source(&folder.path().join("src/Dial.tsx"), "import { useState } from 'react'", &Resolvers::default());
        std::fs::create_dir(folder.path().join("src")).expect("made");
        let framework = |source: &str| super::framework(&folder.path().join("src/Dial.tsx"), source, &Resolvers::default());
        write("package.json", r#"{ "dependencies": { "react": "19" } }"#);
        assert_eq!(told(), "react");
        assert_eq!(framework("/** @jsxImportSource glazed/react */\nexport const Dial = () => <p/>"), "react");
        assert_eq!(framework("/** @jsxImportSource glazed */\nimport { useState } from 'preact/hooks'"), "preact");
        assert_eq!(framework("/** @jsxImportSource preact/compat */\nimport { useState } from 'react'"), "preact");
        write(".babelrc", r#"{ "presets": [["@babel/preset-react", { "runtime": "automatic", "importSource": "glazed" }]] }"#);
        assert_eq!(told(), "glazed");
        write("vite.config.ts", "export default { plugins: [react({ jsxImportSource: 'fired' })] }");
        assert_eq!(told(), "fired");
        write("tsconfig.json", r#"{ "compilerOptions": { "jsxImportSource": "painted" } }"#);
        assert_eq!(told(), "painted");
    }
}
