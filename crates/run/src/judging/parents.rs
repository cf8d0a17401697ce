//! The parent that a part asks for, found in the project: by the name that it says, or as the component that gives what it takes from around it.

use std::collections::{BTreeSet, HashMap};
use std::path::{Path, PathBuf};
use std::sync::{Arc, LazyLock, Mutex, PoisonError};

use fidelon_core::plan::{Domain, values};
use fidelon_core::scene::{Module, Scene, Wrapper};
use fidelon_core::surface::{Framework, Surface, Type};
use fidelon_core::value::Value;
use fidelon_source::Files as _;
use indexmap::IndexMap;
use regex::Regex;

use crate::surfaces::own_files;
use crate::survey::shown;

/// Parents that a part is put into, one within the other, at most.
const MOST_PARENTS: usize = 4;

/// Files of a project that are looked through, at most.
const MOST_FILES: usize = 4_000;

/// What the components of a project are called and what they give, read once where a part asks for its parent.
#[derive(Debug, Default)]
pub struct ComponentIndex(Mutex<Option<Arc<Index>>>);

impl ComponentIndex {
    fn read(&self, root: &Path) -> Arc<Index> {
        let mut held = self.0.lock().unwrap_or_else(PoisonError::into_inner);
        let index = held.get_or_insert_with(|| {
            let (_, files) = own_files(root);
            let all =
                fidelon_reader::components_in(root, |f| fidelon_reader::is_component_file(f) || fidelon_reader::may_declare_components(f));
            Arc::new(Index::of(all.into_iter().take(MOST_FILES).filter_map(|file| Some((files.read(&file).ok()?, file)))))
        });
        index.clone()
    }
}

/// Whether a file is one component.
fn is_one(file: &Path) -> bool {
    ["vue", "svelte"].iter().any(|e| file.extension().is_some_and(|x| x == *e))
}

/// Components of a project: the file, and what it exports each as.
type Found = Vec<(PathBuf, String)>;

#[derive(Debug, Default)]
struct Index {
    /// By their names, without case and dashes.
    named: HashMap<String, Found>,
    /// By the keys that their files give.
    giving: HashMap<String, Found>,
}

impl Index {
    fn of(texts: impl Iterator<Item = (String, PathBuf)>) -> Self {
        let mut out = Self::default();
        for (text, file) in texts {
            let declared = if is_one(&file) {
                let stem = file.file_stem().and_then(|stem| stem.to_str()).unwrap_or_default();
                vec![(stem.to_owned(), "default".to_owned())]
            } else {
                // One file may hold a thing with all of its parts.
                declared_by(&text)
            };
            for key in given_by(&text) {
                let exports = declared.iter().map(|(_, export)| (file.clone(), export.clone()));
                out.giving.entry(key.to_owned()).or_default().extend(exports);
            }
            for (name, export) in declared {
                out.named.entry(plain(&name)).or_default().push((file.clone(), export));
            }
        }
        out
    }

    /// Those that are found by one of some words, in their order, without what a file itself declares.
    fn found<'a>(by: &HashMap<String, Found>, words: impl Iterator<Item = &'a str>, own: &Path) -> Found {
        let mut out: Found =
            words.filter_map(|word| by.get(word)).flatten().filter(|(file, _)| !is_one(file) || file != own).cloned().collect();
        out.dedup();
        out
    }
}

/// The same scene within the parent that is asked for; none where the project has none, or it stands there already.
pub(super) fn within(scene: &Scene, root: &Path, index: &ComponentIndex, said: &str) -> Option<Scene> {
    let part = scene.parts.first().filter(|part| scene.parts.len() == 1 && !part.surface.is_served())?;
    if scene.wrap.len() >= MOST_PARENTS {
        return None;
    }
    let index = index.read(root);
    let own = root.join(&part.surface.file);
    let stands = |module: &Module| {
        module.file == part.surface.file && module.export == part.surface.export || scene.wrap.iter().any(|w| w.component == *module)
    };
    let mut found = named(&index, said, &own);
    if found.is_empty() {
        let (_, files) = own_files(root);
        found = giving(&index, said, &files.read(&own).unwrap_or_default(), &own);
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
fn named(index: &Index, said: &str, own: &Path) -> Found {
    static NAMES: LazyLock<Regex> =
        LazyLock::new(|| Regex::new(r"[A-Z][A-Za-z0-9]*(?:\.[A-Z][A-Za-z0-9]*)*").expect("the pattern is well-formed"));
    // What is asked for is named after the word that asks for it.
    let from = ["within", "inside", "outside", " by ", " in ", "Context", "wrap", "parent", " use "];
    let start = from.iter().filter_map(|word| said.find(word)).min().unwrap_or(0);
    let names: Vec<String> = NAMES.find_iter(&said[start..]).map(|found| plain(found.as_str())).filter(|name| name.len() > 2).collect();
    Index::found(&index.named, names.iter().map(String::as_str), own)
}

/// A name without what tells `tall-shelf` from `TallShelf` and `Tall.Shelf`.
fn plain(text: &str) -> String {
    text.replace(['-', '_', '.'], "").to_lowercase()
}

/// The components whose source gives what is asked for by a key: `injection "shelf" not found` by `provide('shelf', …)`, a context by
/// its provider.
fn giving(index: &Index, said: &str, source: &str, own: &Path) -> Found {
    static KEY: LazyLock<Regex> = LazyLock::new(|| {
        Regex::new(r#"(?i)injection ["`']?(?:Symbol\()?["'`]?([\w.:$-]+)|\b(?:useContext|getContext|inject)\(\s*["'`]?([A-Za-z_$][\w$]*)"#)
            .expect("the pattern is well-formed")
    });
    let keys: BTreeSet<&str> = KEY
        .captures_iter(said)
        .chain(KEY.captures_iter(source))
        .filter_map(|found| found.get(1).or_else(|| found.get(2)))
        .map(|key| key.as_str())
        .filter(|key| key.len() > 2)
        .collect();
    Index::found(&index.giving, keys.into_iter(), own)
}

/// Characters after the word that gives something, within which it says what.
const NEAR: usize = 160;

/// The keys that a source gives to what stands within it: `provide('shelf', …)`, `provide() { return { shelf } }`, `setContext(KEY, …)`,
/// `<Shelf.Provider>`.
fn given_by(text: &str) -> BTreeSet<&str> {
    static GIVEN: LazyLock<Regex> =
        LazyLock::new(|| Regex::new(r"([A-Za-z_$][\w$]*)\.Provider\b|provide|setContext").expect("the pattern is well-formed"));
    static WORDS: LazyLock<Regex> = LazyLock::new(|| Regex::new(r"[A-Za-z_$][\w.:$-]{2,}").expect("the pattern is well-formed"));
    let mut out = BTreeSet::new();
    for found in GIVEN.captures_iter(text) {
        if let Some(context) = found.get(1) {
            out.insert(context.as_str());
            continue;
        }
        let after = &text[found.get(0).map_or(0, |whole| whole.end())..];
        let near = after.char_indices().nth(NEAR).map_or(after, |(at, _)| &after[..at]);
        out.extend(WORDS.find_iter(near).map(|word| word.as_str().trim_end_matches([':', '.', '-'])));
    }
    out
}

/// The components that a script exports, by their names: what each is exported as.
fn declared_by(text: &str) -> Vec<(String, String)> {
    static EXPORTED: LazyLock<Regex> = LazyLock::new(|| {
        Regex::new(r"export (default )?(?:const|function|class) ([A-Z]\w*)|export (default) ([A-Z]\w*)|export \{([^}]*)\}")
            .expect("the pattern is well-formed")
    });
    let mut out = Vec::new();
    for found in EXPORTED.captures_iter(text) {
        let is_default = found.get(1).or_else(|| found.get(3)).is_some();
        if let Some(name) = found.get(2).or_else(|| found.get(4)) {
            let export = if is_default { "default" } else { name.as_str() };
            out.push((name.as_str().to_owned(), export.to_owned()));
        }
        for part in found.get(5).map_or("", |list| list.as_str()).split(',') {
            let (name, export) = part.split_once(" as ").map_or((part.trim(), part.trim()), |(name, export)| (name.trim(), export.trim()));
            let name = if export == "default" { name } else { export };
            if name.starts_with(char::is_uppercase) {
                out.push((name.to_owned(), export.to_owned()));
            }
        }
    }
    out
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
            let first = domains.iter().find_map(|domain| match domain {
                Domain::Prop(name, values) if *name == prop.name => values.first().cloned(),
                _ => None,
            });
            out.insert(prop.name.clone(), first?);
        }
    }
    Some(out)
}

#[cfg(test)]
mod tests {
    use super::*;

    fn index() -> Index {
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
        Index::of(files.into_iter().map(|(file, text)| (text.to_owned(), PathBuf::from(file))))
    }

    #[test]
    fn the_parent_that_a_message_names() {
        let found = |said: &str, own: &str| named(&index(), said, Path::new(own));
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
        let found = |said: &str, source: &str| {
            let found = giving(&index(), said, source, Path::new("/p/src/cup/row.vue"));
            found.into_iter().map(|(file, _)| file).collect::<Vec<_>>()
        };
        assert_eq!(found("TypeError: of null", "const kiln = useContext(KilnContext)"), [PathBuf::from("/p/src/kiln.tsx")]);
        assert_eq!(found("injection \"CupInstance\" not found.", ""), [PathBuf::from("/p/src/cup/cup.vue")]);
        assert!(found("injection \"Nobody\" not found.", "").is_empty());
    }
}
