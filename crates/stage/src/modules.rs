//! Modules for the engine: the project's through the loader, and the few that are ours.

use std::cell::RefCell;
use std::collections::BTreeMap;
use std::path::Path;
use std::rc::Rc;
use std::sync::Arc;

use fidelon_engine::{Code, Format, ImportKind, Modules};
use fidelon_loader::{Cache, Importing, Kind, LoadError, Loader};

/// What our own modules are called: `stage:session`.
const OURS: &str = "stage:";
/// Those that stand in for modules of Node, where there are any.
pub(crate) const BUILTIN: &str = "stage:node:";

/// Our modules by name. Some come only when the realm has been there for a while.
pub type Ours = Rc<RefCell<BTreeMap<String, Arc<str>>>>;

/// Modules of one project, for one realm.
pub struct ProjectModules {
    loader: Rc<RefCell<Loader>>,
    ours: Ours,
    /// The file from whose place our modules import packages.
    from: String,
    cache: Cache,
    /// The first error that the loader met, whole: the engine passes errors on as text only.
    fault: Rc<RefCell<Option<LoadError>>>,
}

impl ProjectModules {
    /// Modules through this loader; `ours` are served by name, and import packages as the file `from` would.
    pub fn new(loader: Rc<RefCell<Loader>>, cache: Cache, ours: Ours, from: &str, fault: Rc<RefCell<Option<LoadError>>>) -> Self {
        Self { loader, ours, from: from.into(), cache, fault }
    }

    fn failed(&self, error: LoadError) -> String {
        let line = error.to_line();
        self.fault.borrow_mut().get_or_insert(error);
        line
    }

    fn key_of_ours(&self, name: &str) -> Option<String> {
        self.ours.borrow().get(name).map(|code| Cache::key(&[b"ours", name.as_bytes(), code.as_bytes()]))
    }
}

impl Modules for ProjectModules {
    fn resolve(&mut self, from: &str, specifier: &str, kind: ImportKind) -> Result<String, String> {
        if specifier.starts_with(OURS) {
            // Nobody else imports them.
            let theirs = from.starts_with("http") || Path::new(from).is_absolute();
            return if !theirs || specifier.starts_with(BUILTIN) {
                Ok(specifier.to_owned())
            } else {
                Err(format!("there is no package `{specifier}`"))
            };
        }
        let builtin = format!("{BUILTIN}{}", specifier.strip_prefix("node:").unwrap_or(specifier));
        if self.ours.borrow().contains_key(&builtin) {
            return Ok(builtin);
        }
        let from =
            if from.starts_with(OURS) || from.is_empty() { self.from.clone() } else { from.split('?').next().unwrap_or(from).to_owned() };
        let importing = match kind {
            ImportKind::Import => Importing::Module,
            ImportKind::Require => Importing::CommonJs,
        };
        let resolved = self.loader.borrow().resolve(&from, specifier, importing);
        resolved.map_err(|e| self.failed(e))
    }

    fn load(&mut self, name: &str) -> Result<Code, String> {
        if self.ours.borrow().contains_key(name) {
            let bytecode = self.key_of_ours(name).and_then(|k| self.cache.get(&k)).map(Arc::from);
            return Ok(Code { format: Format::Module, bytecode });
        }
        let loaded = self.loader.borrow_mut().load(name);
        let module = loaded.map_err(|e| self.failed(e))?;
        let bytecode = self.loader.borrow().bytecode(&module).map(Arc::from);
        let format = match module.kind {
            Kind::Module => Format::Module,
            Kind::CommonJs => Format::CommonJs,
        };
        Ok(Code { format, bytecode })
    }

    fn source(&mut self, name: &str) -> Result<Arc<str>, String> {
        if let Some(code) = self.ours.borrow().get(name) {
            return Ok(code.clone());
        }
        let loaded = self.loader.borrow_mut().load(name);
        loaded.map(|module| module.runnable()).map_err(|e| self.failed(e))
    }

    fn keep(&mut self, name: &str, bytecode: &[u8]) {
        match self.key_of_ours(name) {
            Some(key) => self.cache.put(&key, bytecode),
            None => self.loader.borrow().keep_bytecode(name, bytecode),
        }
    }
}

/// What is said of a module that throws as it is loaded. A name in capitals that nobody defined is one that a build puts in.
pub fn thrown_while_loading(message: &str) -> String {
    let name = message.strip_prefix("ReferenceError: ").and_then(|rest| rest.split([' ', '\'']).find(|word| !word.is_empty()));
    let is_constant = |name: &&str| name.len() > 3 && name.chars().all(|c| c.is_ascii_uppercase() || c.is_ascii_digit() || c == '_');
    let hint = name.filter(is_constant).map(|name| {
        format!("; if the project's build puts it in, a module named under `setup` in fidelon.toml can: `globalThis.{name} = …`")
    });
    // A variable that a fresh clone has nowhere.
    let variable = message.split_once("Could not find export '").and_then(|(_, rest)| rest.split_once("' in module '"));
    let hint = hint.or_else(|| {
        let (name, module) = variable?;
        module.contains("node_modules/$env/").then(|| format!("; write it into the project's `.env`: `{name}=…`"))
    });
    format!("it threw while it was loaded: {message}{}", hint.unwrap_or_default())
}

#[cfg(test)]
mod tests {
    use super::thrown_while_loading;

    #[test]
    fn what_a_build_puts_in_is_said_to_be_missing() {
        let told = thrown_while_loading("ReferenceError: __KILN_VERSION__ is not defined");
        assert!(told.contains("`globalThis.__KILN_VERSION__ = …`"), "{told}");
        let told = thrown_while_loading("ReferenceError: 'DEV' is not defined");
        assert!(!told.contains("globalThis"), "too short to be a custom of anybody: {told}");
        let told = thrown_while_loading("SyntaxError: Could not find export 'PUBLIC_KILN' in module 'node_modules/$env/static/public.js'");
        assert!(told.ends_with("; write it into the project's `.env`: `PUBLIC_KILN=…`"), "{told}");
        for plain in [
            "SyntaxError: Could not find export 'kiln' in module 'src/kiln.js'",
            "ReferenceError: kiln is not defined",
            "TypeError: KILNS is not a function",
        ] {
            assert_eq!(thrown_while_loading(plain), format!("it threw while it was loaded: {plain}"));
        }
    }
}
