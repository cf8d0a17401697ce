//! The front of the loader: resolve, load, look up.

use std::cell::RefCell;
use std::collections::{BTreeMap, HashMap};
use std::path::{Component, Path, PathBuf};
use std::sync::Arc;

use fidelon_source::{Bounds, DiskFiles, Files, bytes_of};
use serde::{Deserialize, Serialize};

use crate::cache::Cache;
use crate::error::LoadError;
use crate::resolve::{Aliases, EMPTY, Importing, Resolvers, package_of};
use crate::{angular, asset, auto_imports, maps, script, served};

/// Runs a framework's compiler, which is JavaScript, for the loader, which knows none.
pub trait Compilers {
    /// Calls `glue(modules, input, readFile, typesOf)`, where `modules` are the namespaces of the compiler's files, and gives the JSON
    /// of what it returns.
    ///
    /// # Errors
    /// What the compiler threw, in words.
    fn compile(&mut self, modules: &[String], glue: &str, input: &str) -> Result<String, String>;
}

/// For loaders that meet no file which needs a compiler: the ones that load the compilers.
#[derive(Debug, Clone, Copy)]
pub struct NoCompilers;

impl Compilers for NoCompilers {
    fn compile(&mut self, modules: &[String], _: &str, _: &str) -> Result<String, String> {
        Err(format!("{} is not called from here", modules.join(", ")))
    }
}

/// What a module is.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
pub enum Kind {
    /// An ES module.
    Module,
    /// A CommonJS file, wrapped by [`script::WRAPPER`].
    CommonJs,
}

/// A module that can run.
#[derive(Debug, Clone)]
pub struct Module {
    /// What it is.
    pub kind: Kind,
    /// The text; see [`Module::runnable`].
    pub code: Arc<String>,
    /// Source maps, the one nearest to the source first.
    pub maps: Arc<[String]>,
    /// The key under which its bytecode is kept.
    pub bytecode_key: String,
    /// The files that it was made from, each with the hash of its content.
    pub reads: Arc<[(String, String)]>,
}

impl Module {
    /// One that was written for the occasion, of no file.
    fn made(code: String, bytecode_key: String) -> Self {
        Self { kind: Kind::Module, code: Arc::new(code), maps: Arc::new([]), bytecode_key, reads: Arc::new([]) }
    }

    /// The text as an engine takes it: a CommonJS file within its wrapper.
    pub fn runnable(&self) -> Arc<str> {
        match self.kind {
            Kind::Module => self.code.as_str().into(),
            Kind::CommonJs => format!("{}{}{}", script::WRAPPER.0, self.code, script::WRAPPER.1).into(),
        }
    }
}

/// What the cache holds of a module. No `code` means that the source runs as it stands.
#[derive(Debug, Serialize, Deserialize)]
pub(crate) struct Entry {
    pub(crate) kind: Kind,
    pub(crate) code: Option<String>,
    pub(crate) maps: Vec<String>,
    /// Other files that it depends on, with the hash of their content.
    pub(crate) reads: Reads,
}

/// What modules were made from, so that whoever keeps what came of them can tell whether it still counts.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub struct LoadedFiles {
    /// Files, each with the hash of its content.
    pub files: BTreeMap<String, String>,
    /// What imports led to, those within a package left out: the file or the manifest of the package, the specifier and how it was written → a file.
    pub led: BTreeMap<(String, String, Importing), String>,
}

/// Loads modules of one project.
pub struct Loader {
    pub(crate) resolvers: Resolvers,
    /// What the project calls its folders.
    pub(crate) aliases: Aliases,
    cache: Cache,
    pub(crate) compilers: Box<dyn Compilers>,
    pub(crate) workspaces: angular::Workspaces,
    auto_imports: auto_imports::Declared,
    pub(crate) loaded: HashMap<String, Module>,
    /// Folders that modules may come from, beside installed packages; none where they may come from anywhere.
    within: Option<Bounds>,
    /// The server on this machine whose modules may be loaded.
    served: Option<String>,
    /// Files with other texts than on the disk, by path.
    pub(crate) edits: BTreeMap<String, String>,
    pub(crate) reached: RefCell<LoadedFiles>,
}

impl std::fmt::Debug for Loader {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        f.debug_struct("Loader").field("loaded", &self.loaded.len()).finish_non_exhaustive()
    }
}

impl Loader {
    /// A loader that keeps what it makes in `cache`.
    pub fn new(cache: Cache, compilers: Box<dyn Compilers>) -> Self {
        Self {
            resolvers: Resolvers::default(),
            aliases: Aliases::default(),
            cache,
            compilers,
            workspaces: angular::Workspaces::default(),
            auto_imports: auto_imports::Declared::default(),
            loaded: HashMap::new(),
            within: None,
            served: None,
            edits: BTreeMap::new(),
            reached: RefCell::default(),
        }
    }

    /// The same with aliases of the project.
    #[must_use]
    pub fn knowing(self, aliases: &Aliases) -> Self {
        Self { resolvers: Resolvers::new(aliases), aliases: aliases.clone(), ..self }
    }

    /// From now on modules come from these projects and from installed packages alone: component code reads no other file.
    pub fn keep_within(&mut self, folders: &[&Path]) {
        self.within = Some(Bounds::of(folders));
    }

    /// From now on modules of this server may be loaded too, and of no other.
    pub fn serve_from(&mut self, origin: Option<String>) {
        self.served = origin;
    }

    /// From now on it is noted anew what is reached.
    pub fn note_anew(&mut self) {
        self.reached = RefCell::default();
    }

    /// What was reached since.
    pub fn reached(&self) -> LoadedFiles {
        self.reached.borrow().clone()
    }

    /// How much was reached: whether it has become more.
    pub fn count_reached(&self) -> usize {
        let all = self.reached.borrow();
        all.files.len() + all.led.len()
    }

    /// Files with the hashes of their contents, and what imports led to, count as reached.
    pub fn reached_elsewhere(
        &self,
        files: impl IntoIterator<Item = (String, String)>,
        led: impl IntoIterator<Item = ((String, String, Importing), String)>,
    ) {
        let mut all = self.reached.borrow_mut();
        all.files.extend(files);
        for (import, to) in led {
            all.led.entry(import).or_insert(to);
        }
    }

    /// Whether what was reached from one file would be reached from another too, and has not been changed since; if so it counts as reached.
    pub fn reaches(&self, reached: &LoadedFiles, from: &str, to: &str) -> bool {
        let leads = |((place, specifier, importing), file): (&(String, String, Importing), &String)| {
            place != from || self.resolve(to, specifier, *importing).is_ok_and(|found| found == *file)
        };
        let still = reached.files.iter().all(|(file, hash)| hash_of(file).as_ref() == Some(hash)) && reached.led.iter().all(leads);
        if still {
            let mut all = self.reached.borrow_mut();
            all.files.extend(reached.files.clone());
            all.led.extend(reached.led.iter().filter(|((place, ..), _)| place != from).map(|(k, v)| (k.clone(), v.clone())));
        }
        still
    }

    /// Has the compiler of a component's file at hand, so that the next change of it is compiled at once.
    pub fn have_compiler(&mut self, path: &str) {
        let extension = path.rsplit('.').next().unwrap_or_default().to_owned();
        if let Ok(source) = DiskFiles.read(Path::new(path)) {
            // Only that it runs counts: what is wrong with the file is told when it is asked for.
            let _ = self.transform(path, &extension, &source);
        }
    }

    pub(crate) fn is_within(&self, name: &str) -> bool {
        let path = Path::new(name.split('?').next().unwrap_or(name));
        self.within.as_ref().is_none_or(|bounds| bounds.hold(path))
    }

    /// The module that `specifier` means in the file `from`: an absolute path.
    ///
    /// # Errors
    /// [`LoadError`] says what is missing and how to add it.
    pub fn resolve(&self, from: &str, specifier: &str, importing: Importing) -> Result<String, LoadError> {
        if specifier == EMPTY || specifier.starts_with("empty:") {
            return Ok(EMPTY.into());
        }
        if let Some(address) = served::joined(from, specifier).or_else(|| specifier.starts_with("http://").then(|| specifier.to_owned())) {
            let allowed = self.served.is_some() && served::origin(&address) == self.served.as_deref();
            return if allowed { Ok(address) } else { Err(outside(from, specifier)) };
        }
        if Path::new(specifier).is_absolute() && (DiskFiles.is_file(Path::new(specifier)) || self.edits.contains_key(specifier)) {
            let real = Path::new(specifier).canonicalize().map_or_else(|_| specifier.to_owned(), |p| p.to_string_lossy().into_owned());
            return if self.is_within(&real) { Ok(specifier.to_owned()) } else { Err(outside(from, specifier)) };
        }
        if let Some(builtin) = specifier.strip_prefix("node:") {
            return Err(LoadError::of_file(
                from,
                format!("`node:{builtin}` belongs to Node; a component that runs in a page cannot import it"),
            ));
        }
        // The query belongs to the import, not to the file: `./a.css?inline`.
        let found = self.resolvers.resolve(from, specifier, importing)?;
        if found != EMPTY && !self.is_within(&found) {
            return Err(outside(from, specifier));
        }
        // Within a package, files lead where they did as long as it is the same; other packages are found from its place.
        let place = match from.rsplit_once("/node_modules/") {
            None => Some(from.to_owned()),
            Some(_) if specifier.starts_with(['.', '#']) => None,
            Some((above, within)) => Some(format!("{above}/node_modules/{}/package.json", package_of(within))),
        };
        if let Some(place) = place {
            self.reached.borrow_mut().led.insert((place, specifier.to_owned(), importing), found.clone());
        }
        // What stands in for a file does so after the resolver: what led here stays as it is written.
        let stand_in = self.workspaces.of(from).and_then(|workspace| {
            let other = workspace.stand_in(&found).filter(|other| self.is_within(other))?;
            self.reached_too(workspace.file.as_deref());
            Some(other)
        });
        Ok(stand_in.unwrap_or(found))
    }

    /// Files that what is loaded depends on without being made from them.
    pub fn reached_too<'f>(&self, files: impl IntoIterator<Item = &'f Path>) {
        let named = files.into_iter().map(|file| file.to_string_lossy().into_owned()).collect();
        self.reached.borrow_mut().files.extend(hashed(named));
    }

    /// The file that declares the types which `specifier` means in the file `from`.
    pub fn types(&self, from: &str, specifier: &str) -> Option<String> {
        self.resolvers.types(from, specifier)
    }

    /// Loads a module by the name that [`Loader::resolve`] gave.
    ///
    /// # Errors
    /// [`LoadError`] says what is wrong with the file, and where.
    pub fn load(&mut self, name: &str) -> Result<Module, LoadError> {
        let module = match self.loaded.get(name) {
            Some(module) => module.clone(),
            None => self.make(name)?,
        };
        self.reached.borrow_mut().files.extend(module.reads.iter().cloned());
        self.loaded.insert(name.to_owned(), module.clone());
        Ok(module)
    }

    /// Forgets what was loaded: files may have changed since.
    pub fn forget(&mut self) {
        self.loaded.clear();
        self.workspaces = angular::Workspaces::default();
        self.auto_imports = auto_imports::Declared::default();
        self.resolvers = Resolvers::new(&self.aliases);
    }

    /// The bytecode kept for a module.
    pub fn bytecode(&self, module: &Module) -> Option<Vec<u8>> {
        if self.is_edited("", &module.reads) { None } else { self.cache.get(&module.bytecode_key) }
    }

    /// Keeps the bytecode of a loaded module.
    pub fn keep_bytecode(&self, name: &str, bytecode: &[u8]) {
        if let Some(module) = self.loaded.get(name).filter(|module| !self.is_edited("", &module.reads)) {
            self.cache.put(&module.bytecode_key, bytecode);
        }
    }

    /// The code of a loaded module, as the engine runs it.
    pub fn code(&self, name: &str) -> Option<&str> {
        self.loaded.get(name).map(|module| module.code.as_str())
    }

    /// The place in the source that a place in a loaded module came from; none where it came from no source. All counted from 1.
    pub fn original(&self, name: &str, line: u32, column: u32) -> Option<(u32, u32)> {
        let Some(module) = self.loaded.get(name) else { return Some((line, column)) };
        let column = if module.kind == Kind::CommonJs && line == 1 {
            column.saturating_sub(u32::try_from(script::WRAPPER.0.len()).unwrap_or(0)).max(1)
        } else {
            column
        };
        maps::original(&module.maps, line, column)
    }

    /// The file of the project that a text stands in, of those that a class of this name was made from; its text, and the index of it there.
    pub fn holding(&self, class: &str, text: &str) -> Option<(String, String, usize)> {
        let declares = |code: &str| {
            code.split("class ")
                .skip(1)
                .any(|rest| rest.split(|c: char| !c.is_alphanumeric() && c != '_' && c != '$').next() == Some(class))
        };
        let mut modules: Vec<_> =
            self.loaded.iter().filter(|(name, module)| !name.contains("/node_modules/") && declares(&module.code)).collect();
        modules.sort_by_key(|(name, _)| *name);
        modules.into_iter().flat_map(|(_, module)| module.reads.iter()).find_map(|(file, _)| {
            let whole = self.text(file).ok()?;
            let at = whole.find(text)?;
            Some((file.clone(), whole, at))
        })
    }

    fn make(&mut self, name: &str) -> Result<Module, LoadError> {
        if name.starts_with("http://") {
            return self.served_module(name);
        }
        // Names come from `resolve`, or over HTTP from a page, whose code is a stranger's.
        if name != EMPTY && !self.is_within(name) {
            return Err(outside(name, name));
        }
        if name == EMPTY {
            return Ok(Module::made("export default {};".into(), Cache::key(&[EMPTY.as_bytes()])));
        }
        let path = name.split('?').next().unwrap_or(name);
        let extension = Path::new(path).extension().and_then(|e| e.to_str()).unwrap_or("").to_ascii_lowercase();
        let query = name.split_once('?').map(|(_, query)| query.split('&').next().unwrap_or_default());
        if asset::is_addressed(&extension) && query != Some("raw") || query == Some("url") {
            let code = asset::address(path);
            let bytecode_key = Cache::key(&[name.as_bytes(), code.as_bytes()]);
            return Ok(Module::made(code, bytecode_key));
        }
        let source = self.text(path).map_err(|e| LoadError::of_file(path, e.to_string()))?;
        let of_project = |file: &Path| self.is_within(&file.to_string_lossy()).then(|| DiskFiles.read(file).ok()).flatten();
        let imports = self.auto_imports.of(path, &of_project);
        let imports_key = imports.as_ref().map(|imports| imports.key()).unwrap_or_default();
        let key = Cache::key(&[b"module", name.as_bytes(), self.aliases.key().as_bytes(), imports_key.as_bytes(), source.as_bytes()]);
        let kept = if self.is_edited(path, &[]) { None } else { self.cached(&key) };
        let entry = match kept.filter(|entry| !self.is_edited(path, &entry.reads)) {
            Some(entry) => entry,
            None => {
                let mut entry = self.transform_as(query, path, &extension, &source)?;
                if let Some(imports) = imports {
                    imports.write_into(&mut entry, path, &source);
                }
                if !self.is_edited(path, &entry.reads)
                    && let Ok(json) = serde_json::to_vec(&entry)
                {
                    self.cache.put(&key, &json);
                }
                entry
            }
        };
        // The text follows from the source and from what else was read: no need to hash it too.
        let reads: Vec<&[u8]> = entry.reads.iter().flat_map(|(file, hash)| [file.as_bytes(), hash.as_bytes()]).collect();
        let bytecode_key = Cache::key(&[&[b"bytecode", key.as_bytes()], reads.as_slice()].concat());
        let own = (path.to_owned(), Cache::hash(source.as_bytes()));
        let reads = std::iter::once(own).chain(entry.reads).collect();
        Ok(Module { kind: entry.kind, code: Arc::new(entry.code.unwrap_or(source)), maps: entry.maps.into(), bytecode_key, reads })
    }

    /// A module of a server: a script, or a stylesheet. Nothing of it is kept from run to run.
    fn served_module(&self, address: &str) -> Result<Module, LoadError> {
        if self.served.is_none() || served::origin(address) != self.served.as_deref() {
            return Err(outside(address, address));
        }
        let text = served::text(address).map_err(|e| LoadError::of_file(address, e))?;
        let path = address.split(['?', '#']).next().unwrap_or(address);
        let code = if path.ends_with(".css") {
            asset::css(address, &text)
        } else {
            script::transform(path, &text, &script::Wanted::default())?.code.unwrap_or(text)
        };
        let bytecode_key = Cache::key(&[b"served", address.as_bytes(), code.as_bytes()]);
        Ok(Module::made(code, bytecode_key))
    }

    /// The text of a component that is ours, compiled as one that lies beside the file `from` would be.
    ///
    /// # Errors
    /// [`LoadError`] when the compiler is not installed.
    pub fn compile_ours(&mut self, name: &str, code: &str, from: &str) -> Result<String, LoadError> {
        let key = Cache::key(&[b"ours", name.as_bytes(), code.as_bytes(), from.as_bytes()]);
        if let Some(entry) = self.cached(&key) {
            self.reached.borrow_mut().files.extend(entry.reads);
            return Ok(entry.code.unwrap_or_default());
        }
        let beside = Path::new(from).with_file_name(name.rsplit(':').next().unwrap_or(name)).to_string_lossy().into_owned();
        let transformed = self.transform(&beside, name.rsplit('.').next().unwrap_or_default(), code);
        let entry = transformed.map_err(|error| LoadError { file: from.to_owned(), ..error })?;
        if let Ok(json) = serde_json::to_vec(&entry) {
            self.cache.put(&key, &json);
        }
        self.reached.borrow_mut().files.extend(entry.reads);
        Ok(entry.code.unwrap_or_default())
    }

    fn cached(&self, key: &str) -> Option<Entry> {
        let entry: Entry = serde_json::from_slice(&self.cache.get(key)?).ok()?;
        let unchanged = entry.reads.iter().all(|(file, hash)| hash_of(file).as_ref() == Some(hash));
        unchanged.then_some(entry)
    }
}

/// A path without `.` and `..`.
pub(crate) fn tidy(path: &Path) -> PathBuf {
    let mut out = PathBuf::new();
    for part in path.components() {
        match part {
            Component::CurDir => {}
            Component::ParentDir => drop(out.pop()),
            other => out.push(other),
        }
    }
    out
}

fn outside(from: &str, specifier: &str) -> LoadError {
    let message = format!("`{specifier}` lies outside the project: components read nothing there. Run in a folder that holds both");
    LoadError::of_file(from, message)
}

/// Files that something was made from, each with the hash of its content.
pub(crate) type Reads = Vec<(String, String)>;

pub(crate) fn hashed(files: Vec<String>) -> Reads {
    files.into_iter().filter_map(|file| hash_of(&file).map(|hash| (file, hash))).collect()
}

pub(crate) fn hash_of(file: &str) -> Option<String> {
    bytes_of(Path::new(file)).ok().map(|bytes| Cache::hash(&bytes))
}
