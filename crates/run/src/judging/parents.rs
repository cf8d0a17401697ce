//! The parent that a part asks for, found in the project: by the name that it says, or as the component that gives what it takes from around it.

use std::collections::BTreeSet;
use std::path::{Path, PathBuf};
use std::sync::{Arc, Mutex, PoisonError};

use fidelon_core::plan::values;
use fidelon_core::scene::{Module, Scene, Wrapper};
use fidelon_core::surface::{Framework, Surface, Type};
use fidelon_core::value::Value;
use fidelon_source::Files as _;
use indexmap::IndexMap;
use regex::Regex;
use std::sync::LazyLock;

use crate::surfaces::own_files;
use crate::survey::shown;

/// Parents that a part is put into, one within the other, at most.
const MOST_PARENTS: usize = 4;

/// Files of a project that are looked through, at most.
const MOST_FILES: usize = 4_000;

/// The texts of the components of a project, read once where a part asks for its parent.
#[derive(Debug, Default)]
pub struct ComponentTexts(Mutex<Option<Arc<Texts>>>);

type Texts = Vec<(PathBuf, String)>;

impl ComponentTexts {
    fn read(&self, root: &Path) -> Arc<Texts> {
        let mut held = self.0.lock().unwrap_or_else(PoisonError::into_inner);
        let texts = held.get_or_insert_with(|| {
            let (_, files) = own_files(root);
            let all =
                fidelon_reader::components_in(root, |f| fidelon_reader::is_component_file(f) || fidelon_reader::may_declare_components(f));
            Arc::new(all.into_iter().take(MOST_FILES).filter_map(|file| Some((file.clone(), files.read(&file).ok()?))).collect())
        });
        texts.clone()
    }
}

/// The same scene within the parent that is asked for; none where the project has none, or it stands there already.
pub(super) fn within(scene: &Scene, root: &Path, texts: &ComponentTexts, said: &str) -> Option<Scene> {
    let part = scene.parts.first().filter(|part| scene.parts.len() == 1 && !part.surface.is_served())?;
    if scene.wrap.len() >= MOST_PARENTS {
        return None;
    }
    let all = texts.read(root);
    let own = root.join(&part.surface.file);
    let stands = |module: &Module| {
        module.file == part.surface.file && module.export == part.surface.export || scene.wrap.iter().any(|w| w.component == *module)
    };
    let mut found: Vec<(PathBuf, String)> = named(&all, said, &own);
    if found.is_empty() {
        found = giving(&all, said, &own);
    }
    // The nearest first: parts of one thing lie in one folder.
    found.sort_by_key(|(file, _)| std::cmp::Reverse(shared(file, &own)));
    found.into_iter().find_map(|(file, export)| {
        let module = Module { file: shown(&file, root), export };
        if stands(&module) {
            return None;
        }
        let surface = surface_of(root, &file, &module)?;
        let takes_content = surface.slots.iter().any(|slot| slot.name == "default");
        if surface.framework != part.surface.framework || !takes_content {
            return None;
        }
        let wrapper = Wrapper { component: module, framework: Some(surface.framework), props: plainly(&surface)? };
        let mut out = scene.clone();
        out.wrap.insert(0, wrapper);
        Some(out)
    })
}

/// The components that a message names: "must be used within `Shelf`", "Context \"Shelf.Root\" not found".
fn named(all: &Texts, said: &str, own: &Path) -> Vec<(PathBuf, String)> {
    static NAMES: LazyLock<Regex> =
        LazyLock::new(|| Regex::new(r"[A-Z][A-Za-z0-9]*(?:\.[A-Z][A-Za-z0-9]*)*").expect("the pattern is well-formed"));
    // What is asked for is named after the word that asks for it.
    let from = ["within", "inside", "outside", " by ", " in ", "Context", "wrap", "parent", " use "];
    let start = from.iter().filter_map(|word| said.find(word)).min().unwrap_or(0);
    let names: Vec<String> = NAMES.find_iter(&said[start..]).map(|found| found.as_str().replace('.', "")).collect();
    let mut out = Vec::new();
    for name in names.iter().filter(|name| name.len() > 2) {
        for (file, text) in all {
            let stem = file.file_stem().and_then(|stem| stem.to_str()).unwrap_or_default();
            let is_file = ["vue", "svelte"].iter().any(|e| file.extension().is_some_and(|x| x == *e));
            if is_file && is_called(stem, name) && file != own {
                out.push((file.clone(), "default".to_owned()));
            } else if !is_file && text.contains(name.as_str()) {
                out.extend(exports(text, name).map(|export| (file.clone(), export)));
            }
        }
    }
    out
}

/// Whether a file is called as a component is: `tall-shelf.vue` holds `TallShelf`.
fn is_called(stem: &str, name: &str) -> bool {
    let plain = |text: &str| text.replace(['-', '_'], "").to_lowercase();
    plain(stem) == plain(name)
}

/// The exports of a script that are a component of this name.
fn exports(text: &str, name: &str) -> impl Iterator<Item = String> {
    let is_named = [format!("export const {name}"), format!("export function {name}"), format!("export class {name}")]
        .iter()
        .any(|written| follows(text, written))
        || text.contains("export {")
            && text.split("export {").skip(1).any(|list| {
                list.split('}').next().unwrap_or_default().split(',').any(|part| part.split(" as ").last().map(str::trim) == Some(name))
            });
    let is_default = [format!("export default function {name}"), format!("export default class {name}"), format!("export default {name}")]
        .iter()
        .any(|written| follows(text, written));
    is_named.then(|| name.to_owned()).into_iter().chain(is_default.then(|| "default".to_owned()))
}

/// Whether a text stands there as whole words.
fn follows(text: &str, words: &str) -> bool {
    text.match_indices(words).any(|(at, _)| !text[at + words.len()..].starts_with(|c: char| c.is_alphanumeric() || c == '_'))
}

/// The components whose source gives what is asked for by a key: `injection "shelf" not found` by `provide('shelf', …)`, a context by
/// its provider.
fn giving(all: &Texts, said: &str, own: &Path) -> Vec<(PathBuf, String)> {
    static KEY: LazyLock<Regex> = LazyLock::new(|| {
        Regex::new(r#"(?i)injection ["`']?(?:Symbol\()?["'`]?([\w.:$-]+)|\b(?:useContext|getContext|inject)\(\s*["'`]?([A-Za-z_$][\w$]*)"#)
            .expect("the pattern is well-formed")
    });
    let source = all.iter().find(|(file, _)| file == own).map_or("", |(_, text)| text.as_str());
    let keys: BTreeSet<&str> = KEY
        .captures_iter(said)
        .chain(KEY.captures_iter(source))
        .filter_map(|found| found.get(1).or_else(|| found.get(2)))
        .map(|key| key.as_str())
        .filter(|key| key.len() > 2)
        .collect();
    let gives = |text: &str, key: &str| {
        text.contains(&format!("{key}.Provider"))
            || ["provide", "setContext"].iter().any(|word| {
                text.match_indices(word).any(|(at, _)| {
                    let rest: String = text[at + word.len()..].chars().take(160).collect();
                    rest.contains(key)
                })
            })
    };
    let mut out = Vec::new();
    for (file, text) in all {
        if !keys.iter().any(|key| gives(text, key)) {
            continue;
        }
        let is_file = ["vue", "svelte"].iter().any(|e| file.extension().is_some_and(|x| x == *e));
        if is_file && file != own {
            out.push((file.clone(), "default".to_owned()));
        } else if !is_file {
            // One file may hold a thing with all of its parts.
            out.extend(declared_by(text).into_iter().map(|export| (file.clone(), export)));
        }
    }
    out
}

/// The components that a script exports by name, or by default.
fn declared_by(text: &str) -> Vec<String> {
    static EXPORTED: LazyLock<Regex> =
        LazyLock::new(|| Regex::new(r"export (default )?(?:const|function|class) ([A-Z]\w*)").expect("the pattern is well-formed"));
    let name = |found: regex::Captures<'_>| if found.get(1).is_some() { "default".to_owned() } else { found[2].to_owned() };
    EXPORTED.captures_iter(text).map(name).collect()
}

/// How many folders two files share.
fn shared(a: &Path, b: &Path) -> usize {
    a.components().zip(b.components()).take_while(|(x, y)| x == y).count()
}

fn surface_of(root: &Path, file: &Path, module: &Module) -> Option<Surface> {
    let (types, files) = own_files(root);
    let surfaces = fidelon_reader::surfaces(&files, &types, file, &shown(file, root)).ok()?;
    surfaces.into_iter().find(|surface| surface.export == module.export && surface.framework != Framework::Html)
}

/// The plainest props that a parent can be shown with: those that it demands, and what opens it.
fn plainly(surface: &Surface) -> Option<IndexMap<String, Value>> {
    const OPENING: [&str; 8] = ["open", "defaultOpen", "default-open", "isOpen", "visible", "expanded", "defaultExpanded", "shown"];
    let domains = values::declared(surface).ok()?;
    let mut out = IndexMap::new();
    for prop in &surface.props {
        let opens = OPENING.contains(&prop.name.as_str()) && matches!(prop.ty, Type::Boolean);
        if opens {
            out.insert(prop.name.clone(), Value::json(true));
        } else if prop.required {
            let first = domains.iter().find(|domain| domain.is_of(&prop.name)).and_then(first_of)?;
            out.insert(prop.name.clone(), first);
        }
    }
    Some(out)
}

fn first_of(domain: &fidelon_core::plan::Domain) -> Option<Value> {
    match domain {
        fidelon_core::plan::Domain::Prop(_, values) => values.first().cloned(),
        _ => None,
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn texts() -> Texts {
        let files = [
            ("/p/src/shelf/ShelfRoot.vue", "<script setup>provideShelfContext({})</script>"),
            ("/p/src/shelf/ShelfItem.vue", "<script setup>const shelf = inject('shelf')</script>"),
            (
                "/p/src/kiln.tsx",
                "export const KilnProvider = ({ children }) => <KilnContext.Provider value={1}>{children}</KilnContext.Provider>",
            ),
            ("/p/src/Dial.tsx", "export default function Dial() { const kiln = useContext(KilnContext) }"),
            ("/p/src/cup/cup.vue", "<script>export default { provide() { return { CupInstance: this } } }</script>"),
        ];
        files.into_iter().map(|(file, text)| (PathBuf::from(file), text.to_owned())).collect()
    }

    #[test]
    fn the_parent_that_a_message_names() {
        let found = |said: &str, own: &str| named(&texts(), said, Path::new(own));
        let root = vec![(PathBuf::from("/p/src/shelf/ShelfRoot.vue"), "default".to_owned())];
        let own = "/p/src/shelf/ShelfItem.vue";
        assert_eq!(found("Injection `Symbol(x)` not found. Component must be used within `ShelfRoot`", own), root);
        assert_eq!(found("Context \"Shelf.Root\" not found", own), root);
        assert_eq!(found("Component must be used within `Bowl`", own), []);
        let provider = vec![(PathBuf::from("/p/src/kiln.tsx"), "KilnProvider".to_owned())];
        assert_eq!(found("useKiln must be used inside a KilnProvider", "/p/src/Dial.tsx"), provider);
    }

    #[test]
    fn the_component_that_gives_what_is_asked_for() {
        let found = |said: &str, own: &str| giving(&texts(), said, Path::new(own)).into_iter().map(|(file, _)| file).collect::<Vec<_>>();
        assert_eq!(found("TypeError: of null", "/p/src/Dial.tsx"), [PathBuf::from("/p/src/kiln.tsx")]);
        assert_eq!(found("injection \"CupInstance\" not found.", "/p/src/cup/row.vue"), [PathBuf::from("/p/src/cup/cup.vue")]);
        assert!(found("injection \"Nobody\" not found.", "/p/src/cup/row.vue").is_empty());
    }
}
