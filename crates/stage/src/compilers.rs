//! The frameworks' own compilers, run in a realm of their own: it has no component code in it, and lives as long as files
//! are compiled.

use std::cell::RefCell;
use std::collections::BTreeMap;
use std::path::Path;
use std::rc::Rc;
use std::sync::Arc;
use std::time::Duration;

use fidelon_engine::{EngineError, Limits, Realm, allocation};
use fidelon_loader::{Aliases, Cache, Compilers, LoadError, Loader, NoCompilers};
use fidelon_source::{Bounds, Files, ProjectFiles};

use crate::modules::{BUILTIN, ProjectModules};

/// Of Node's own modules the little that compilers ask for while they are loaded.
const NODE: [(&str, &str); 6] = [
    ("path", include_str!("../js/node-path.js")),
    // They have no files here.
    ("fs", "export const existsSync = () => false; export default { existsSync };"),
    ("url", "export default {};"),
    ("module", "export default {};"),
    ("v8", "export default {};"),
    (
        "assert",
        "export { assert as 'module.exports' }; export default function assert(value, message) { if (!value) throw message instanceof Error ? message : new Error(message ?? 'assertion failed'); }",
    ),
];

/// Runs compilers on demand; the realm of the last one is kept.
#[derive(Debug)]
pub struct RealmCompilers {
    cache: Cache,
    /// What the project calls its folders: types are read through them.
    aliases: Aliases,
    /// The files that types are read from.
    files: Rc<RefCell<ProjectFiles>>,
    open: Option<(Vec<String>, Realm)>,
}

impl RealmCompilers {
    /// Compilers whose bytecode is kept in `cache`, for the files of the project in this folder.
    pub fn new(cache: Cache, aliases: Aliases, root: &Path) -> Self {
        let files = Rc::new(RefCell::new(ProjectFiles(Bounds::of(&[root]))));
        Self { cache, aliases, files, open: None }
    }

    /// Has what belongs to the project of a file at hand, should it lie in another one.
    fn look_around(&self, input: &str) {
        let input: serde_json::Value = serde_json::from_str(input).unwrap_or_default();
        let Some(folder) = input["filename"].as_str().and_then(|name| Path::new(name).parent()) else { return };
        if !self.files.borrow().0.hold(folder) {
            *self.files.borrow_mut() = ProjectFiles(Bounds::of(&[folder]));
        }
    }

    fn realm(&mut self, modules: &[String], glue: &str) -> Result<&Realm, String> {
        if self.open.as_ref().is_none_or(|(names, realm)| names != modules || realm.is_broken()) {
            self.open = None;
            let realm = self.start(modules, glue)?;
            self.open = Some((modules.to_vec(), realm));
        }
        Ok(&self.open.as_ref().expect("opened above").1)
    }

    fn start(&self, modules: &[String], glue: &str) -> Result<Realm, String> {
        let fault: Rc<RefCell<Option<LoadError>>> = Rc::default();
        let imports: String = modules
            .iter()
            .enumerate()
            .map(|(i, m)| format!("import * as module{i} from {};\n", serde_json::Value::from(m.as_str())))
            .collect();
        let names: Vec<String> = (0..modules.len()).map(|i| format!("module{i}")).collect();
        let entry = format!(
            "{imports}const glue = {};\nconst readFile = (file) => {{ const t = globalThis.__read(file); return t === '' ? null : t.slice(1); }};\n\
             const typesOf = (from, specifier) => globalThis.__types(JSON.stringify([from, specifier])) || null;\n\
             globalThis.__compile = {{ run: (json) => JSON.stringify(glue([{}], JSON.parse(json), readFile, typesOf)) }};\n",
            glue.trim().trim_end_matches(';'),
            names.join(", "),
        );
        let mut ours: BTreeMap<String, Arc<str>> = NODE.iter().map(|(name, code)| (format!("{BUILTIN}{name}"), Arc::from(*code))).collect();
        ours.insert("stage:compile".to_owned(), entry.into());
        let from = modules.first().map(String::as_str).unwrap_or_default();
        let loader = Rc::new(RefCell::new(Loader::new(self.cache.clone(), Box::new(NoCompilers)).knowing(&self.aliases)));
        let types = loader.clone();
        let modules = ProjectModules::new(loader, self.cache.clone(), Rc::new(RefCell::new(ours)), from, fault.clone());
        // A compiler may take long over a large file, and is no stranger's code.
        let limits = Limits { deadline: Duration::from_secs(60), ..Limits::default() };
        let engine = |e: EngineError| fault.borrow().as_ref().map_or_else(|| told(&e), LoadError::to_line);
        let realm = Realm::new(limits, Box::new(modules)).map_err(engine)?;
        realm.eval("Object.assign(globalThis, { global: globalThis, process: { env: { NODE_ENV: 'production' }, browser: true, versions: {}, version: 'v20.0.0', platform: 'browser', cwd: () => '/' } }); ''").map_err(engine)?;
        let files = self.files.clone();
        realm
            .define("__read", move |_, file| files.borrow().read(Path::new(file)).map_or(String::new(), |t| format!("={t}")))
            .map_err(engine)?;
        let types_of = move |_: &_, asked: &str| {
            let asked = serde_json::from_str::<(String, String)>(asked).ok();
            asked.and_then(|(from, specifier)| types.borrow().types(&from, &specifier)).unwrap_or_default()
        };
        realm.define("__types", types_of).map_err(engine)?;
        realm.import("stage:compile").map_err(engine)?;
        Ok(realm)
    }
}

/// What goes wrong in a compiler, in words. Its limits are its own: no option of a run raises them.
fn told(error: &EngineError) -> String {
    match error {
        EngineError::Deadline { steps, .. } => {
            format!("compiling it did not come to an end within {} million steps, as many as one file may take", steps / 1_000_000)
        }
        EngineError::Memory(mib) => format!("compiling it needed more than {mib} MiB of memory, as much as one file may use"),
        other => other.to_string(),
    }
}

impl Compilers for RealmCompilers {
    fn compile(&mut self, modules: &[String], glue: &str, input: &str) -> Result<String, String> {
        self.look_around(input);
        // Its realm has limits of its own.
        allocation::excused(|| self.realm(modules, glue)?.call("__compile", "run", input).map_err(|e| told(&e)))
    }
}
