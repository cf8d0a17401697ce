//! The loader on a thread of its own: it holds a realm for the frameworks' compilers, which no other thread may touch.

use std::collections::BTreeMap;
use std::path::{Path, PathBuf};
use std::sync::Arc;
use std::sync::mpsc::{Receiver, Sender, channel};

use fidelon_loader::{Aliases, Cache, Form, Importing, LoadError, Loader};
use fidelon_source::Place;
use fidelon_stage::compilers::RealmCompilers;
use fidelon_stage::entry;
use fidelon_stage::places::{own_place, shown};
use percent_encoding::{AsciiSet, NON_ALPHANUMERIC, percent_decode_str, utf8_percent_encode};
use tokio::sync::oneshot;

/// Compilers are deep.
const STACK: usize = 32 << 20;

/// What stands in an address as it is.
const KEPT: &AsciiSet = &NON_ALPHANUMERIC.remove(b'/').remove(b'.').remove(b'-').remove(b'_').remove(b'~').remove(b'@').remove(b'+');

/// What is asked of the loader.
enum Ask {
    /// From now on these are our modules, which import packages as this file would; modules of this server may be loaded too.
    Scene(BTreeMap<String, Arc<str>>, String, Option<String>),
    /// The text of a module.
    Text(Form, String, oneshot::Sender<Result<String, String>>),
    /// The address of what a specifier means in a module.
    Resolve(String, String, oneshot::Sender<Result<String, String>>),
    /// The places of stacks.
    Places(Vec<String>, Sender<Vec<Option<Place>>>),
    /// The first fault that was met since the scene was set.
    Fault(Sender<Option<LoadError>>),
}

/// The loader, from other threads.
#[derive(Clone, Debug)]
pub struct Modules {
    ask: Sender<Ask>,
}

impl Modules {
    /// Starts the thread; modules are served below `base`: ours at `/s/`, others at `/m/`, CommonJS files at `/c/`.
    ///
    /// # Errors
    /// What the system says.
    pub fn start(root: PathBuf, cache: Cache, aliases: Aliases, base: String) -> std::io::Result<Self> {
        let (ask, asked) = channel();
        std::thread::Builder::new().name("modules".into()).stack_size(STACK).spawn(move || {
            let loader = Loader::new(cache.clone(), Box::new(RealmCompilers::new(cache, aliases.clone(), &root))).knowing(&aliases);
            Serving { loader, root, base, ours: BTreeMap::new(), from: String::new(), fault: None }.serve(&asked);
        })?;
        Ok(Self { ask })
    }

    /// From now on these are our modules, which import packages as the file `from` would. Of a server those of this origin may be loaded too.
    pub fn scene(&self, ours: BTreeMap<String, Arc<str>>, from: String, origin: Option<String>) {
        let _ = self.ask.send(Ask::Scene(ours, from, origin));
    }

    /// The text of a module.
    ///
    /// # Errors
    /// What is wrong with it, in a line.
    pub async fn text(&self, form: Form, name: String) -> Result<String, String> {
        let (tell, told) = oneshot::channel();
        let _ = self.ask.send(Ask::Text(form, name, tell));
        told.await.unwrap_or_else(|_| Err("the loader is gone".into()))
    }

    /// The address of what a specifier means in a module.
    ///
    /// # Errors
    /// What is missing, in a line.
    pub async fn resolve(&self, specifier: String, from: String) -> Result<String, String> {
        let (tell, told) = oneshot::channel();
        let _ = self.ask.send(Ask::Resolve(specifier, from, tell));
        told.await.unwrap_or_else(|_| Err("the loader is gone".into()))
    }

    /// Where these stacks point to in the user's own source.
    pub(crate) fn places(&self, stacks: Vec<String>) -> Vec<Option<Place>> {
        let count = stacks.len();
        let (tell, told) = channel();
        let _ = self.ask.send(Ask::Places(stacks, tell));
        told.recv().unwrap_or_else(|_| vec![None; count])
    }

    /// The first fault that was met since the scene was set.
    pub fn fault(&self) -> Option<LoadError> {
        let (tell, told) = channel();
        let _ = self.ask.send(Ask::Fault(tell));
        told.recv().ok().flatten()
    }
}

struct Serving {
    loader: Loader,
    root: PathBuf,
    base: String,
    ours: BTreeMap<String, Arc<str>>,
    from: String,
    fault: Option<LoadError>,
}

impl Serving {
    fn serve(&mut self, asked: &Receiver<Ask>) {
        while let Ok(ask) = asked.recv() {
            match ask {
                Ask::Scene(ours, from, origin) => {
                    let folder = Path::new(&from).parent().unwrap_or(&self.root).to_path_buf();
                    self.loader.keep_within(&[&self.root, &folder]);
                    self.loader.serve_from(origin);
                    (self.from, self.fault) = (from, None);
                    self.ours = entry::compiled(ours, &self.from, &mut self.loader).unwrap_or_else(|fault| {
                        self.fault = Some(fault);
                        BTreeMap::new()
                    });
                }
                Ask::Text(form, name, tell) => {
                    let text = self.text(form, &name);
                    let _ = tell.send(self.told(text));
                }
                Ask::Resolve(specifier, from, tell) => {
                    let from = if self.ours.contains_key(&from) { self.from.clone() } else { from };
                    let found = self.loader.resolve(&from, &specifier, Importing::Module);
                    let address = found.map(|name| address(&self.base, &self.ours, &name, Form::Facade));
                    let _ = tell.send(self.told(address));
                }
                Ask::Places(stacks, tell) => {
                    let places = stacks.iter().map(|s| own_place(&local(s, &self.base), &self.loader, &self.root, &|_| None)).collect();
                    let _ = tell.send(places);
                }
                Ask::Fault(tell) => {
                    let _ = tell.send(self.fault.clone());
                }
            }
        }
    }

    fn text(&mut self, form: Form, name: &str) -> Result<String, LoadError> {
        let Self { loader, base, ours, from, .. } = self;
        let address = |name: &str, form: Form| address(base, ours, name, form);
        let is_ours = |name: &str| ours.contains_key(name);
        match ours.get(name) {
            Some(code) => loader.link(name, from, code, &address, &is_ours),
            None => loader.linked(name, form, &address, &is_ours),
        }
    }

    fn told<T>(&mut self, result: Result<T, LoadError>) -> Result<T, String> {
        result.map_err(|error| {
            let line = error.to_line();
            self.fault.get_or_insert(error);
            line
        })
    }
}

fn address(base: &str, ours: &BTreeMap<String, Arc<str>>, name: &str, form: Form) -> String {
    let folder = match form {
        _ if ours.contains_key(name) => return format!("{base}/s/{name}"),
        Form::Facade => "m",
        Form::Register => "c",
    };
    format!("{base}/{folder}/{}", utf8_percent_encode(name, KEPT))
}

/// A stack with the names of modules in place of their addresses.
fn local(stack: &str, base: &str) -> String {
    let line = |line: &str| -> String {
        let Some((at, folder)) = ["/m/", "/c/"].iter().find_map(|f| line.find(&format!("{base}{f}")).map(|at| (at, f))) else {
            return line.to_owned();
        };
        let start = line[..at].rfind(['(', ' ', '@']).map_or(0, |i| i + 1);
        let name = percent_decode_str(&line[at + base.len() + folder.len()..]).decode_utf8_lossy();
        format!("{}{name}", &line[..start])
    };
    stack.lines().map(line).collect::<Vec<_>>().join("\n")
}

/// The file of a fault as a place of the project.
pub(crate) fn place_of(fault: &LoadError, root: &Path) -> Place {
    let (line, column) = fault.at.unwrap_or((1, 1));
    Place { file: shown(&fault.file, root), line, column }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn stacks_speak_of_files() {
        let stack = "Error: x\n    at raise (http://127.0.0.1:4000/k1/m//studio/Kiln%20Dial.vue:12:5)\n    at http://127.0.0.1:4000/k1/c//studio/a.js:1:2\n    at native";
        assert_eq!(local(stack, "/k1"), "Error: x\n    at raise (/studio/Kiln Dial.vue:12:5)\n    at /studio/a.js:1:2\n    at native");
    }

    #[test]
    fn addresses_lead_back_to_names() {
        let name = "/studio/a b/é?inline#x.css";
        let address = address("/k", &BTreeMap::new(), name, Form::Facade);
        assert!(address.starts_with("/k/m//studio/") && !address.contains(['?', '#', ' ']), "{address}");
        let back = percent_decode_str(address.strip_prefix("/k/m/").expect("the folder")).decode_utf8_lossy();
        assert_eq!(back, name);
    }
}
