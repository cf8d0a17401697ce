//! The frameworks' own compilers, run in a realm of their own: it has no component code in it, and lives as long as files
//! are compiled.

use std::cell::RefCell;
use std::collections::BTreeMap;
use std::path::Path;
use std::rc::Rc;
use std::time::Duration;

use fidelon_engine::{EngineError, Limits, Realm};
use fidelon_loader::{Cache, Compilers, LoadError, Loader, NoCompilers};
use fidelon_source::{DiskFiles, Files};

use crate::modules::ProjectModules;

/// Runs compilers on demand; the realm of the last one is kept.
#[derive(Debug)]
pub struct RealmCompilers {
    cache: Cache,
    open: Option<(String, Realm)>,
}

impl RealmCompilers {
    /// Compilers whose bytecode is kept in `cache`.
    pub fn new(cache: Cache) -> Self {
        Self { cache, open: None }
    }

    fn realm(&mut self, compiler: &str, glue: &str) -> Result<&Realm, String> {
        if self.open.as_ref().is_none_or(|(name, realm)| name != compiler || realm.is_broken()) {
            self.open = None;
            let realm = self.start(compiler, glue)?;
            self.open = Some((compiler.to_owned(), realm));
        }
        Ok(&self.open.as_ref().expect("opened above").1)
    }

    fn start(&self, compiler: &str, glue: &str) -> Result<Realm, String> {
        let fault: Rc<RefCell<Option<LoadError>>> = Rc::default();
        let entry = format!(
            "import * as compiler from {};\nconst glue = {};\nconst readFile = (file) => {{ const t = globalThis.__read(file); return t === '' ? null : t.slice(1); }};\n\
             const typesOf = (from, specifier) => globalThis.__types(JSON.stringify([from, specifier])) || null;\n\
             globalThis.__compile = {{ run: (json) => JSON.stringify(glue(compiler, JSON.parse(json), readFile, typesOf)) }};\n",
            serde_json::Value::from(compiler),
            glue.trim().trim_end_matches(';'),
        );
        let ours = BTreeMap::from([("stage:compile".to_owned(), entry.into())]);
        let loader = Rc::new(RefCell::new(Loader::new(self.cache.clone(), Box::new(NoCompilers))));
        let types = loader.clone();
        let modules = ProjectModules::new(loader, self.cache.clone(), ours, compiler, fault.clone());
        // A compiler may take long over a large file, and is no stranger's code.
        let limits = Limits { deadline: Duration::from_secs(60), ..Limits::default() };
        let engine = |e: EngineError| fault.borrow().as_ref().map_or_else(|| e.to_string(), LoadError::to_line);
        let realm = Realm::new(limits, Box::new(modules)).map_err(engine)?;
        realm.eval("globalThis.process = { env: { NODE_ENV: 'production' }, cwd: () => '/' }; ''").map_err(engine)?;
        realm.define("__read", |_, file| DiskFiles.read(Path::new(file)).map_or(String::new(), |t| format!("={t}"))).map_err(engine)?;
        let types_of = move |_: &_, asked: &str| {
            let asked = serde_json::from_str::<(String, String)>(asked).ok();
            asked.and_then(|(from, specifier)| types.borrow().types(&from, &specifier)).unwrap_or_default()
        };
        realm.define("__types", types_of).map_err(engine)?;
        realm.import("stage:compile").map_err(engine)?;
        Ok(realm)
    }
}

impl Compilers for RealmCompilers {
    fn compile(&mut self, compiler: &str, glue: &str, input: &str) -> Result<String, String> {
        self.realm(compiler, glue)?.call("__compile", "run", input).map_err(|e| e.to_string())
    }
}
