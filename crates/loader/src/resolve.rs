//! From a specifier to a file: Node's algorithm with the conditions of a browser, package `exports` and `imports`,
//! tsconfig `paths`, and the table in which Yarn keeps where packages lie (Plug'n'Play), by `oxc_resolver`.

use std::cell::RefCell;
use std::collections::HashMap;
use std::path::{Path, PathBuf};
use std::rc::Rc;

use fidelon_source::build_modules;
use oxc_resolver::{AliasValue, ResolveError, ResolveOptions, Resolver, TsconfigDiscovery};
use serde::{Deserialize, Serialize};

use crate::error::LoadError;

/// How the specifier was written.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
pub enum Importing {
    /// `import`
    Module,
    /// `require`
    CommonJs,
    /// `import type`: what a type checker would read.
    Types,
}

/// The file in which Yarn keeps where packages lie.
pub const PACKAGE_TABLE: &str = ".pnp.cjs";

/// What names mean in a project besides its tsconfig and its `node_modules`.
#[derive(Debug, Clone, PartialEq, Eq, Default, serde::Serialize, serde::Deserialize)]
pub struct Aliases {
    /// What it calls its own folders and files: `@studio` → `/studio/src`, in the order in which they are tried.
    pub named: Vec<(String, PathBuf)>,
    /// The folder whose `.pnp.cjs` tells where packages lie, each within its archive.
    pub packed: Option<PathBuf>,
    /// What its build gives to Sass besides the text of a sheet.
    #[serde(default)]
    pub sass: Sass,
}

/// What the build of a project gives to Sass besides the text of a sheet.
#[derive(Debug, Clone, PartialEq, Eq, Default, serde::Serialize, serde::Deserialize)]
pub struct Sass {
    /// What stands before each text that is compiled, as if it were written there.
    pub first: String,
    /// Folders in which it looks for what it is told to take over.
    pub folders: Vec<PathBuf>,
}

impl Aliases {
    /// Those of folders and files, each by its name.
    fn folders(&self) -> impl Iterator<Item = &(String, PathBuf)> {
        self.named.iter().filter(|(name, _)| !name.ends_with('*'))
    }

    /// The file that stands for all whose names begin alike: `~icons/*`.
    fn of_all(&self, specifier: &str) -> Option<&Path> {
        let stands = |name: &str| name.strip_suffix('*').is_some_and(|start| !start.is_empty() && specifier.starts_with(start));
        self.named.iter().find(|(name, _)| stands(name)).map(|(_, file)| file.as_path())
    }

    /// What tells one set of aliases from another.
    pub fn key(&self) -> String {
        let table = self.packed.iter().map(|folder| format!(".pnp.cjs in {}\n", folder.display()));
        let sass = self.sass.folders.iter().map(|folder| format!("sass in {}\n", folder.display()));
        let first = std::iter::once(self.sass.first.clone());
        self.named.iter().map(|(name, path)| format!("{name}={}\n", path.display())).chain(table).chain(sass).chain(first).collect()
    }
}

/// The resolvers of a project: for packages in folders, and for those that a table tells.
#[derive(Debug)]
pub struct Resolvers {
    aliases: Aliases,
    folders: Set,
    /// By the folder of the table, made when a file below it is asked about; the one used last stands last.
    tables: RefCell<Vec<(PathBuf, Rc<Set>)>>,
    /// The folder of the table that counts for the files of a folder.
    above: RefCell<HashMap<PathBuf, Option<PathBuf>>>,
}

/// Resolvers over one cache of the file system.
#[derive(Debug)]
struct Set {
    module: Resolver,
    common: Resolver,
    types: Resolver,
}

impl Default for Resolvers {
    fn default() -> Self {
        Self::new(&Aliases::default())
    }
}

impl Set {
    fn new(aliases: &Aliases, table: Option<&Path>) -> Self {
        let alias: Vec<_> =
            aliases.folders().map(|(name, path)| (name.clone(), vec![AliasValue::Path(path.to_string_lossy().into_owned())])).collect();
        let options = |conditions: &[&str], main: &[&str]| ResolveOptions {
            condition_names: conditions.iter().map(|c| (*c).to_owned()).collect(),
            main_fields: main.iter().map(|c| (*c).to_owned()).collect(),
            extensions: [".mjs", ".js", ".mts", ".ts", ".jsx", ".tsx", ".json", ".vue", ".svelte"].map(String::from).to_vec(),
            extension_alias: vec![
                (".js".into(), vec![".js".into(), ".ts".into(), ".tsx".into()]),
                (".mjs".into(), vec![".mjs".into(), ".mts".into()]),
                (".jsx".into(), vec![".jsx".into(), ".tsx".into()]),
            ],
            alias: alias.clone(),
            alias_fields: vec![vec!["browser".into()]],
            tsconfig: Some(TsconfigDiscovery::Auto),
            yarn_pnp: table.is_some(),
            cwd: table.map(Path::to_path_buf),
            ..ResolveOptions::default()
        };
        // `browser` comes before `development`: without it several frameworks give their server builds.
        let module = Resolver::new(options(
            &["browser", "development", "svelte", "module", "import", "default"],
            &["svelte", "module", "browser", "main"],
        ));
        let common = module.clone_with_options(options(&["browser", "development", "require", "default"], &["main", "browser"]));
        let types = module.clone_with_options(ResolveOptions {
            extensions: [".d.mts", ".d.ts", ".mts", ".ts", ".tsx", ".vue"].map(String::from).to_vec(),
            extension_alias: vec![
                (".js".into(), vec![".d.ts".into(), ".ts".into(), ".tsx".into(), ".js".into()]),
                (".mjs".into(), vec![".d.mts".into(), ".mts".into(), ".mjs".into()]),
            ],
            ..options(&["types", "import", "default"], &["types", "typings", "module", "main"])
        });
        Self { module, common, types }
    }

    fn of(&self, importing: Importing) -> &Resolver {
        match importing {
            Importing::Module => &self.module,
            Importing::CommonJs => &self.common,
            Importing::Types => &self.types,
        }
    }
}

/// Whether it is the tsconfig that is wrong, not what was looked for.
fn is_of_tsconfig(error: &ResolveError) -> bool {
    matches!(
        error,
        ResolveError::TsconfigNotFound(_)
            | ResolveError::TsconfigSelfReference(_)
            | ResolveError::TsconfigCircularExtend(_)
            | ResolveError::TsconfigLoadFailed { .. }
    )
}

impl Resolvers {
    /// Resolvers that know these aliases.
    pub fn new(aliases: &Aliases) -> Self {
        Self { aliases: aliases.clone(), folders: Set::new(aliases, None), tables: RefCell::default(), above: RefCell::default() }
    }

    /// The folder of the table that counts for a file. An archive may lie anywhere: there it is the table by which it was found.
    fn table_of(&self, from: &str) -> Option<PathBuf> {
        // Within a package it is that of the project which the package lies in.
        let folder = from.split_once("/node_modules/").map_or_else(|| Path::new(from).parent(), |(above, _)| Some(Path::new(above)))?;
        let known = self.above.borrow().get(folder).cloned();
        let above = known.unwrap_or_else(|| {
            let found = folder.ancestors().find(|a| a.join(PACKAGE_TABLE).is_file()).map(Path::to_path_buf);
            self.above.borrow_mut().insert(folder.to_path_buf(), found.clone());
            found
        });
        let by_which = || self.tables.borrow().last().map(|(folder, _)| folder.clone()).or_else(|| self.aliases.packed.clone());
        above.or_else(|| is_packed(from).then(by_which)?)
    }

    /// The resolvers by a table.
    fn by_table(&self, folder: PathBuf) -> Rc<Set> {
        let mut tables = self.tables.borrow_mut();
        let known = tables.iter().position(|(other, _)| *other == folder).map(|at| tables.remove(at));
        let (folder, set) = known.unwrap_or_else(|| {
            let set = Rc::new(Set::new(&self.aliases, Some(&folder)));
            (folder, set)
        });
        tables.push((folder, set.clone()));
        set
    }

    /// The file that `specifier` means in `from`, as an absolute path; a query stays at its end.
    ///
    /// # Errors
    /// [`LoadError`] names the package to install, or the file that is missing.
    pub fn resolve(&self, from: &str, specifier: &str, importing: Importing) -> Result<String, LoadError> {
        self.found(from, specifier, importing).map_err(|error| if error.file == from { error.at_import(specifier) } else { error })
    }

    fn found(&self, from: &str, specifier: &str, importing: Importing) -> Result<String, LoadError> {
        if let Some(file) = self.aliases.of_all(specifier) {
            return Ok(file.to_string_lossy().into_owned());
        }
        let packed = self.table_of(from).map(|folder| self.by_table(folder));
        let resolver = packed.as_deref().unwrap_or(&self.folders).of(importing);
        let mut found = resolver.resolve_file(Path::new(from), specifier);
        if found.is_err() && !specifier.starts_with(['.', '/']) && !from.contains("/node_modules/") {
            // A tsconfig's `include` names TypeScript files; a component beside them means the same by its paths.
            let beside = format!("{from}.ts");
            found = resolver.resolve_file(Path::new(&beside), specifier).or(found);
        }
        if found.as_ref().is_err_and(is_of_tsconfig) {
            // A tsconfig that cannot be read, as what it extends is not installed, says nothing of where things are.
            let options = ResolveOptions { tsconfig: None, ..resolver.options().clone() };
            found = resolver.clone_with_options(options).resolve_file(Path::new(from), specifier);
        }
        if found.is_err() && specifier.starts_with(['$', '.']) {
            if let Some(made) = build_modules::path_of(Path::new(from), specifier) {
                return Ok(made.to_string_lossy().into_owned());
            }
            if let Some(file) = build_modules::library(Path::new(from), specifier) {
                let there = resolver.resolve_file(Path::new(from), &file.to_string_lossy());
                return there.map(|f| f.full_path().to_string_lossy().into_owned()).map_err(|_| LoadError::missing_import(from, specifier));
            }
        }
        match found {
            Ok(found) => Ok(found.full_path().to_string_lossy().into_owned()),
            Err(ResolveError::Ignored(_)) => Ok(EMPTY.into()),
            Err(ResolveError::PackagePathNotExported { .. }) => {
                Err(LoadError::of_file(from, format!("the package does not export `{specifier}`: see \"exports\" in its package.json")))
            }
            Err(ResolveError::MatchedAliasNotFound(..)) => Err(LoadError::missing_import(from, specifier)),
            Err(ResolveError::YarnPnpError(pnp::Error::FailedManifestHydration(_)) | ResolveError::FailedToFindYarnPnpManifest(_)) => {
                Err(LoadError::of_file(
                    from,
                    format!("the table of the project's packages, `{PACKAGE_TABLE}`, cannot be read: run `yarn install`"),
                ))
            }
            // The table knows every package: what it does not tell is not there.
            Err(_) if is_package(specifier) && (packed.is_some() || !has_package(from, specifier)) => {
                Err(self.not_installed(from, package_of(specifier), specifier))
            }
            Err(ResolveError::NotFound(_) | ResolveError::ExtensionAlias(..)) => Err(LoadError::missing_import(from, specifier)),
            Err(other) => Err(LoadError::of_file(from, format!("`{specifier}` cannot be resolved: {other}"))),
        }
    }

    /// That a package is missing, with the command that adds it.
    pub(crate) fn not_installed(&self, from: &str, package: &str, specifier: &str) -> LoadError {
        if !may_be_package(package) {
            return LoadError::no_package(from, specifier);
        }
        if is_packed(from) && self.table_of(from).is_none() {
            let message = format!("`{specifier}` is told by the project's `{PACKAGE_TABLE}`: run in the folder where that file is");
            return LoadError::of_file(from, message);
        }
        LoadError::not_installed(from, package, specifier, if self.table_of(from).is_some() { "yarn add" } else { "npm install" })
    }

    /// The file that declares the types which `specifier` means in `from`; `@types/…` stands in for a package without any.
    pub fn types(&self, from: &str, specifier: &str) -> Option<String> {
        let found = self.resolve(from, specifier, Importing::Types).ok();
        let declares = |file: &String| [".ts", ".mts", ".tsx", ".vue"].iter().any(|e| file.ends_with(e));
        found.filter(declares).or_else(|| {
            let apart = format!(
                "@types/{}",
                specifier.trim_start_matches('@').replacen('/', if specifier.starts_with('@') { "__" } else { "/" }, 1)
            );
            is_package(specifier).then(|| self.resolve(from, &apart, Importing::Types).ok()).flatten().filter(declares)
        })
    }

    /// Whether the tsconfig that counts for a file asks for the types of what is decorated.
    pub(crate) fn emits_metadata(&self, path: &Path) -> bool {
        let found = self.folders.module.find_tsconfig(path);
        found.ok().flatten().is_some_and(|config| config.compiler_options.emit_decorator_metadata == Some(true))
    }

    /// What the tsconfig that counts for a file says its JSX compiles to.
    pub(crate) fn jsx_import_source(&self, path: &Path) -> Option<String> {
        self.folders.module.find_tsconfig(path).ok()??.compiler_options.jsx_import_source.clone()
    }
}

/// True for a file within an archive.
fn is_packed(path: &str) -> bool {
    path.contains(".zip/")
}

fn has_package(from: &str, specifier: &str) -> bool {
    let name = package_of(specifier);
    Path::new(from).ancestors().skip(1).any(|folder| folder.join("node_modules").join(name).is_dir())
}

/// The name of the module that stands for a file which a package leaves out in browsers.
pub const EMPTY: &str = "empty:";

fn is_package(specifier: &str) -> bool {
    !specifier.starts_with(['.', '/', '#']) && !specifier.starts_with("~/") && !specifier.starts_with("@/")
}

/// Whether a package may be called so: not what begins with `~` or `$` or holds a colon (`~icons`, `$lib`, `virtual:pages`).
fn may_be_package(name: &str) -> bool {
    !name.starts_with(['~', '$']) && !name.contains(':')
}

/// `@scope/name/deep` → `@scope/name`.
pub fn package_of(specifier: &str) -> &str {
    let mut slashes = specifier.match_indices('/').map(|(at, _)| at);
    let end = if specifier.starts_with('@') { slashes.nth(1) } else { slashes.next() };
    &specifier[..end.unwrap_or(specifier.len())]
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn packages_by_specifier() {
        for (specifier, package) in
            [("vue", "vue"), ("@mui/material/Button", "@mui/material"), ("react-dom/client", "react-dom"), ("@a/b", "@a/b")]
        {
            assert_eq!(package_of(specifier), package);
        }
    }
}
