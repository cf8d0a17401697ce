//! Names that a project uses without importing them, because its build writes the imports (auto-imports). Such a build also writes a
//! declaration for the type checker, which tells where each name comes from: `const ref: typeof import('vue')['ref']` for scripts,
//! `AppCard: typeof import('./components/AppCard.vue')['default']` for the tags of templates. That is what is read here.

use std::cell::RefCell;
use std::collections::{BTreeMap, HashMap};
use std::path::{Path, PathBuf};
use std::rc::Rc;
use std::sync::LazyLock;

use oxc::allocator::Allocator;
use oxc::parser::Parser;
use oxc::semantic::SemanticBuilder;
use oxc::span::SourceType;
use regex::{Captures, Regex};

use crate::cache::Cache;
use crate::loader::{Entry, Kind, tidy};

/// What the declarations are called, in the folder of the package or one of these below it.
const FILES: [&str; 3] = ["auto-imports.d.ts", "components.d.ts", "imports.d.ts"];
const FOLDERS: [&str; 7] = ["", "src", "types", "typings", "src/types", "src/typings", ".nuxt"];
/// Where a build says that it writes them elsewhere.
const CONFIGS: [&str; 4] = ["vite.config.ts", "vite.config.mts", "vite.config.js", "vite.config.mjs"];

/// Where a name comes from.
#[derive(Debug, Clone, PartialEq, Eq)]
struct Origin {
    /// A package, or a file without `.` and `..`.
    module: String,
    /// The name there; none for all that the module exports.
    export: Option<String>,
}

/// What the build of one package imports.
#[derive(Debug, Default)]
pub(crate) struct AutoImports {
    /// Free names of scripts.
    names: BTreeMap<String, Origin>,
    /// Tags of templates, as `AppCard`.
    components: BTreeMap<String, Origin>,
    /// The declarations, each with the hash of its content.
    reads: Vec<(String, String)>,
}

impl AutoImports {
    /// What is declared for the files of a folder. `read` gives the text of a file of the project.
    fn of(folder: &Path, read: &dyn Fn(&Path) -> Option<String>) -> Self {
        let mut out = Self::default();
        let Some(package) = folder.ancestors().find(|f| f.join("package.json").is_file()) else { return out };
        static ELSEWHERE: LazyLock<Regex> = LazyLock::new(|| pattern(r#"\bdts\s*:\s*['"]([^'"]+\.d\.ts)['"]"#));
        let configured = CONFIGS.iter().filter_map(|name| read(&package.join(name)));
        let elsewhere: Vec<PathBuf> =
            configured.flat_map(|text| ELSEWHERE.captures_iter(&text).map(|c| tidy(&package.join(&c[1]))).collect::<Vec<_>>()).collect();
        let usual = FOLDERS.iter().flat_map(|below| FILES.iter().map(move |name| package.join(below).join(name)));
        for file in usual.chain(elsewhere) {
            let path = file.to_string_lossy().into_owned();
            if out.reads.iter().all(|(known, _)| *known != path)
                && let Some(text) = read(&file)
            {
                out.take(&text, file.parent().unwrap_or(package));
                out.reads.push((path, Cache::hash(text.as_bytes())));
            }
        }
        out
    }

    fn take(&mut self, text: &str, folder: &Path) {
        static DECLARED: LazyLock<Regex> = LazyLock::new(|| {
            pattern(
                r#"(?m)^\s*(?:export\s+)?(const\s+)?['"]?([\w$]+)['"]?\s*:\s*typeof\s+import\(\s*['"]([^'"]+)['"]\s*\)(?:\[\s*['"]([\w$]+)['"]\s*\]|\.([\w$]+))?"#,
            )
        });
        static PASSED_ON: LazyLock<Regex> = LazyLock::new(|| pattern(r#"(?m)^\s*export\s*\{([^}]*)\}\s*from\s*['"]([^'"]+)['"]"#));
        let module = |named: &str| {
            if named.starts_with('.') { tidy(&folder.join(named)).to_string_lossy().into_owned() } else { named.to_owned() }
        };
        let declared = |c: &Captures<'_>| {
            let export = c.get(4).or_else(|| c.get(5)).map(|m| m.as_str().to_owned());
            (c[2].to_owned(), Origin { module: module(&c[3]), export })
        };
        for found in DECLARED.captures_iter(text) {
            let (name, origin) = declared(&found);
            let among = if found.get(1).is_some() { &mut self.names } else { &mut self.components };
            among.entry(name).or_insert(origin);
        }
        for found in PASSED_ON.captures_iter(text) {
            for one in found[1].split(',').map(str::trim).filter(|one| !one.is_empty() && !one.starts_with("type ")) {
                let (there, here) = one.split_once(" as ").map_or((one, one), |(there, here)| (there.trim(), here.trim()));
                let origin = Origin { module: module(&found[2]), export: Some(there.to_owned()) };
                self.names.entry(here.to_owned()).or_insert(origin);
            }
        }
    }

    /// Whether nothing is declared.
    fn is_empty(&self) -> bool {
        self.names.is_empty() && self.components.is_empty()
    }

    /// What a key of the cache must hold of it.
    pub(crate) fn key(&self) -> String {
        self.reads.iter().map(|(_, hash)| hash.as_str()).collect()
    }

    /// Writes into a module the imports that its build would. They stand at its end, where they move no line.
    pub(crate) fn write_into(&self, entry: &mut Entry, path: &str, source: &str) {
        if entry.kind != Kind::Module {
            return;
        }
        let code = entry.code.as_deref().unwrap_or(source);
        let (replaced, mut imports) = self.of_tags(code, path);
        let code = replaced.as_deref().unwrap_or(code);
        for name in free_names(code) {
            if let Some(origin) = self.names.get(&name).or_else(|| self.components.get(&name)).filter(|o| !is_itself(o, path)) {
                imports.push(import(&name, origin, path));
            }
        }
        if !imports.is_empty() {
            entry.code = Some(format!("{code}\n{}\n", imports.join("\n")));
            entry.reads.extend(self.reads.iter().cloned());
        }
    }

    /// Vue's compiler asks for the component of a tag by its name, which the build replaces.
    fn of_tags(&self, code: &str, path: &str) -> (Option<String>, Vec<String>) {
        static ASKED: LazyLock<Regex> = LazyLock::new(|| pattern(r#"\b_resolveComponent\("([\w-]+)"\)"#));
        let mut imports = Vec::new();
        if self.components.is_empty() || !code.contains("_resolveComponent(") {
            return (None, imports);
        }
        let replaced = ASKED.replace_all(code, |found: &Captures<'_>| {
            let name = pascal(&found[1]);
            let Some(origin) = self.components.get(&name).filter(|o| !is_itself(o, path)) else { return found[0].to_owned() };
            let local = format!("__auto_{name}");
            let line = import(&local, origin, path);
            if !imports.contains(&line) {
                imports.push(line);
            }
            local
        });
        (Some(replaced.into_owned()), imports)
    }
}

fn pattern(text: &str) -> Regex {
    Regex::new(text).expect("the pattern is well-formed")
}

/// A file does not import what it declares itself.
fn is_itself(origin: &Origin, path: &str) -> bool {
    let stem = |file: &str| Path::new(file).with_extension("");
    origin.module.starts_with('/') && stem(&origin.module) == stem(path)
}

fn import(local: &str, origin: &Origin, path: &str) -> String {
    let module = if origin.module.starts_with('/') { relative(path, &origin.module) } else { origin.module.clone() };
    let module = serde_json::Value::from(module);
    match origin.export.as_deref() {
        None => format!("import * as {local} from {module};"),
        Some("default") => format!("import {local} from {module};"),
        Some(there) => format!("import {{ {there} as {local} }} from {module};"),
    }
}

/// How the file `from` names another by a way that begins with a dot.
fn relative(from: &str, to: &str) -> String {
    let parts = |path: &str| path.split('/').map(str::to_owned).collect::<Vec<_>>();
    let (mut folder, to) = (parts(from), parts(to));
    folder.pop();
    let shared = folder.iter().zip(&to).take_while(|(a, b)| a == b).count();
    let up = "../".repeat(folder.len() - shared);
    format!("{}{}", if up.is_empty() { "./" } else { &up }, to[shared..].join("/"))
}

/// `el-button` → `ElButton`.
fn pascal(tag: &str) -> String {
    let upper = |part: &str| {
        let mut chars = part.chars();
        chars.next().map(|c| c.to_uppercase().collect::<String>() + chars.as_str()).unwrap_or_default()
    };
    tag.split('-').map(upper).collect()
}

/// The names of a module that nothing in it declares, in order.
fn free_names(code: &str) -> Vec<String> {
    let allocator = Allocator::default();
    let parsed = Parser::new(&allocator, code, SourceType::mjs()).parse();
    if parsed.panicked {
        return Vec::new();
    }
    let semantic = SemanticBuilder::new().build(&parsed.program).semantic;
    let mut names: Vec<String> = semantic.scoping().root_unresolved_references().keys().map(ToString::to_string).collect();
    names.sort_unstable();
    names
}

/// The declarations for folders, read once for each.
#[derive(Debug, Default)]
pub(crate) struct Declared(RefCell<HashMap<PathBuf, Option<Rc<AutoImports>>>>);

impl Declared {
    /// That for a file of the project; none for a file in a package, and where nothing is declared.
    pub(crate) fn of(&self, file: &str, read: &dyn Fn(&Path) -> Option<String>) -> Option<Rc<AutoImports>> {
        let path = Path::new(file);
        let folder = path.parent().filter(|_| path.is_absolute() && !file.contains("/node_modules/"))?;
        if let Some(known) = self.0.borrow().get(folder) {
            return known.clone();
        }
        let found = Some(AutoImports::of(folder, read)).filter(|found| !found.is_empty()).map(Rc::new);
        self.0.borrow_mut().insert(folder.to_path_buf(), found.clone());
        found
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn written(declared: &[(&str, &str)], path: &str, code: &str) -> String {
        let folder = tempfile::tempdir().expect("a folder");
        let root = folder.path();
        for (name, text) in declared.iter().chain(&[("package.json", "{}")]) {
            std::fs::create_dir_all(root.join(name).parent().expect("a folder")).expect("made");
            std::fs::write(root.join(name), text).expect("written");
        }
        let file = root.join(path).to_string_lossy().into_owned();
        let declared = Declared::default().of(&file, &|file| std::fs::read_to_string(file).ok());
        let mut entry = Entry { kind: Kind::Module, code: None, maps: Vec::new(), reads: Vec::new() };
        if let Some(declared) = declared {
            declared.write_into(&mut entry, &file, code);
        }
        entry.code.unwrap_or_default()
    }

    const SCRIPTS: &str = "export {}\ndeclare global {\n  const ref: typeof import('vue')['ref']\n  const computed: typeof import('vue').computed\n  \
                           const useKiln: typeof import('./src/composables/useKiln')['default']\n  const all: typeof import('./src/all')\n}\n\
                           declare global {\n  export type { Ref } from 'vue'\n}\n";

    #[test]
    fn free_names_are_imported_at_the_end() {
        let code = "const n = ref(0)\nconst kiln = useKiln()\nexport default function (computed) { return all.of(computed) }";
        let wanted = format!(
            "{code}\nimport * as all from \"../all\";\nimport {{ ref as ref }} from \"vue\";\nimport useKiln from \"../composables/useKiln\";\n"
        );
        assert_eq!(written(&[("auto-imports.d.ts", SCRIPTS)], "src/parts/Dial.js", code), wanted);
        assert_eq!(written(&[("auto-imports.d.ts", SCRIPTS)], "node_modules/dial/Dial.js", code), "", "a package writes its own");
        assert_eq!(written(&[], "src/Dial.js", code), "");
        assert_eq!(written(&[("auto-imports.d.ts", SCRIPTS)], "src/composables/useKiln.ts", "export default function useKiln() {}"), "");
    }

    #[test]
    fn the_declaration_may_lie_elsewhere_and_pass_names_on() {
        let config = "export default { plugins: [imports({ dts: './build/given.d.ts' })] }";
        let passed = "export { heat as warmth, type Glaze, glow } from '../src/heat'";
        assert_eq!(
            written(&[("vite.config.ts", config), ("build/given.d.ts", passed)], "src/Dial.js", "warmth(glow)"),
            "warmth(glow)\nimport { glow as glow } from \"./heat\";\nimport { heat as warmth } from \"./heat\";\n"
        );
    }

    #[test]
    fn tags_of_templates_are_imported() {
        let declared = "declare module 'vue' {\n  export interface GlobalComponents {\n    AppCard: typeof import('./src/AppCard.vue')['default']\n    \
                        ElButton: typeof import('element-kit')['Button']\n  }\n}";
        let code = "const a = _resolveComponent(\"AppCard\"), b = _resolveComponent(\"el-button\"), c = _resolveComponent(\"Other\")";
        assert_eq!(
            written(&[("src/components.d.ts", &declared.replace("./src/", "./"))], "src/Dial.vue", code),
            "const a = __auto_AppCard, b = __auto_ElButton, c = _resolveComponent(\"Other\")\n\
             import __auto_AppCard from \"./AppCard.vue\";\nimport { Button as __auto_ElButton } from \"element-kit\";\n"
        );
        assert_eq!(written(&[("components.d.ts", declared)], "src/AppCard.vue", "_resolveComponent(\"AppCard\")"), "");
    }
}
