//! The stage in a real browser.

use std::path::PathBuf;
use std::sync::Arc;
use std::sync::mpsc::{Receiver, RecvTimeoutError, channel};
use std::time::Duration;

use fidelon_core::observation::Observation;
use fidelon_core::scene::Scene;
use fidelon_core::stage::{Opened, Script, Stage, StageError};
use fidelon_loader::{Aliases, Cache, served};
use fidelon_stage::entry;
use fidelon_stage::modules::thrown_while_loading;
use fidelon_stage::places::in_project;
use serde_json::Value as Json;
use tokio::net::TcpListener;
use tokio::runtime::Runtime;

use crate::driver::{Driver, DriverChoice, DriverError};
use crate::modules::{Modules, place_of};
use crate::patience::{self, Patience};
use crate::server::{Shared, serve};
use crate::snapshot::{Looked, seen};

/// A page is replaced after so many cases.
const MOST_CASES: usize = 1000;
/// How many cases the page takes at once.
const BATCH: usize = 100;
/// How long the modules of a scene may take to come.
const LOADING: Duration = Duration::from_secs(120);

/// How a stage is set up.
#[derive(Debug, Clone)]
pub struct Options {
    /// The project's folder: places are told relative to it.
    pub root: PathBuf,
    /// Where transforms are kept.
    pub cache: Cache,
    /// What the project calls its folders.
    pub aliases: Aliases,
    /// How long one call into a component may take.
    pub deadline: Duration,
    /// The remote end.
    pub driver: DriverChoice,
    /// Whether steps of a person are made by the browser's own input, not by events of a script.
    pub real: bool,
}

/// A browser with its server, started when it is first needed.
struct Running {
    // Dropped first: the session is ended while its server still runs.
    driver: Driver,
    shared: Arc<Shared>,
    modules: Modules,
    said: Receiver<(u64, Vec<Json>)>,
    origin: String,
    base: String,
    page: u64,
    _runtime: Runtime,
}

/// A scene on the page.
struct Open {
    scene: Scene,
    told: Opened,
    cases: usize,
}

/// The stage in a real browser.
pub struct Browser {
    options: Options,
    running: Option<Running>,
    open: Option<Open>,
}

impl std::fmt::Debug for Browser {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        f.debug_struct("Browser").field("options", &self.options).finish_non_exhaustive()
    }
}

/// How a page gets modules: `import(…)` and CommonJS files.
pub const MODULES: &str = include_str!("../js/modules.js");

/// The script of the page: the files that both stages share within one scope.
fn page_script() -> String {
    let shared = fidelon_engine::realm::SHARED.join("\n");
    format!(
        "(() => {{ 'use strict';\n{}\n{}\ntry {{\n{}\n{shared}\n{};\n{MODULES}\n{}\n}} catch (error) {{ lost(error); }}\n}})();",
        fidelon_engine::realm::OWN,
        include_str!("../js/surroundings.js"),
        include_str!("../js/shims.js"),
        fidelon_stage::embedded::SURROUNDINGS,
        include_str!("../js/page.js"),
    )
    // It stands within an element of that name.
    .replace("</script", "<\\/script")
}

fn unjudged(reason: impl Into<String>) -> StageError {
    StageError::lost(reason)
}

impl Browser {
    /// A stage with nothing on it: the browser is started when a scene is opened.
    pub fn new(options: Options) -> Self {
        Self { options, running: None, open: None }
    }

    fn start(&self) -> Result<Running, StageError> {
        let system = |e: std::io::Error| unjudged(format!("the browser stage cannot be set up: {e}"));
        let runtime = tokio::runtime::Builder::new_multi_thread().worker_threads(2).enable_all().build().map_err(system)?;
        let listener = runtime.block_on(TcpListener::bind(("127.0.0.1", 0))).map_err(system)?;
        let origin = format!("http://{}", listener.local_addr().map_err(system)?);
        let base = format!("/{}", secret());
        let modules = Modules::start(self.options.root.clone(), self.options.cache.clone(), self.options.aliases.clone(), base.clone())
            .map_err(system)?;
        let (tell, said) = channel();
        let shared = Arc::new(Shared::new(base.clone(), page_script(), modules.clone(), tell));
        runtime.spawn(serve(listener, shared.clone()));
        let driver = Driver::open(&self.options.driver, origin.trim_start_matches("http://"), runtime.handle())
            .map_err(|e: DriverError| unjudged(e.to_string()))?;
        if let Some(window) = driver.hand() {
            shared.lend_window(window);
        }
        if let Some(hand) = driver.hand().filter(|_| self.options.real) {
            shared.lend(hand);
        }
        Ok(Running { driver, shared, modules, said, origin, base, page: 0, _runtime: runtime })
    }

    fn load(&mut self, scene: &Scene) -> Result<Opened, StageError> {
        if self.running.is_none() {
            self.running = Some(self.start()?);
        }
        let root = self.options.root.clone();
        let Some(running) = &mut self.running else { return Err(unjudged("there is no browser")) };
        running.page += 1;
        running.shared.turn_to(running.page);
        // Packages are found from the place of the first component.
        let from = scene.parts.first().map(|p| root.join(&p.surface.file)).unwrap_or_default().to_string_lossy().into_owned();
        let origin = scene.parts.iter().find(|p| p.surface.is_served()).and_then(|p| served::origin(&p.surface.file)).map(str::to_owned);
        running.shared.send_to(origin.clone());
        running.modules.scene(entry::modules(scene, &root), from, origin);
        let address = format!("{}{}/page/{}", running.origin, running.base, running.page);
        let answer = match running.driver.go(&address) {
            Ok(()) => self.hear(LOADING),
            Err(reason) => Err(format!("{} was lost: {reason}", running.driver.at)),
        };
        let answer = match answer {
            Ok(mut said) => said.pop().unwrap_or_default(),
            Err(reason) => {
                self.running = None;
                return Err(unjudged(format!("loading it, {reason}")));
            }
        };
        if let Some(values) = answer.get("opened") {
            return serde_json::from_value(values.clone()).map_err(|e| unjudged(format!("the values of modules: {e}")));
        }
        let Some(running) = &self.running else { return Err(unjudged("there is no browser")) };
        if let Some(fault) = running.modules.fault() {
            return Err(StageError::File { message: in_project(&fault.message, &root), place: Some(place_of(&fault, &root)) });
        }
        let text = |name: &str| answer["failed"][name].as_str().unwrap_or_default().to_owned();
        let place = running.modules.places(vec![text("stack")]).pop().flatten();
        Err(StageError::File { message: in_project(&thrown_while_loading(&text("message")), &root), place })
    }

    /// What the page says next, unless the browser has worked for so long, or is gone.
    fn hear(&mut self, patience: Duration) -> Result<Vec<Json>, String> {
        let Some(running) = &self.running else { return Err("there is no browser".into()) };
        // Most answers come before anybody need look at processes.
        let mut waiting: Option<Patience> = None;
        loop {
            match running.said.recv_timeout(patience::LOOK) {
                // What an earlier page still said is of no use.
                Ok((page, said)) if page == running.page => return Ok(said),
                Err(RecvTimeoutError::Disconnected) => return Err("the browser's server was lost".into()),
                Ok(_) => {}
                Err(RecvTimeoutError::Timeout) => {
                    let waiting = waiting.get_or_insert_with(|| Patience::new(patience, running.driver.process()));
                    if let Some(why) = waiting.over() {
                        return Err(why.to_string());
                    }
                }
            }
        }
    }

    fn batch(&mut self, scripts: &[Script]) -> Vec<Result<Observation, StageError>> {
        if let Err(error) = self.ready() {
            return scripts.iter().map(|_| Err(error.clone())).collect();
        }
        // The deadline is of one call, and a script has several; the page takes a batch at a time.
        let patience = (self.options.deadline * 2).max(Duration::from_secs(10))
            + Duration::from_millis(200) * u32::try_from(scripts.len()).unwrap_or(0);
        if let Some(running) = &self.running {
            running.shared.hand(running.page, scripts.to_vec());
        }
        if let Some(open) = &mut self.open {
            open.cases += scripts.len();
        }
        match self.hear(patience) {
            Ok(said) if said.len() == scripts.len() && said.iter().all(|one| one.get("protocol").is_none()) => {
                said.into_iter().map(|one| self.observation(one)).collect()
            }
            Ok(said) => {
                self.running = None;
                let why = said.first().and_then(|one| one["protocol"].as_str());
                let what = why.map_or_else(|| "unexpected response from the page".to_owned(), |why| format!("malformed snapshot: {why}"));
                scripts.iter().map(|_| Err(StageError::protocol(what.clone()))).collect()
            }
            Err(reason) => {
                self.running = None;
                match scripts {
                    [_] => vec![Err(unjudged(format!("{reason}: it was started anew")))],
                    // One of them keeps the browser busy; the others are none the worse for it.
                    many => many
                        .iter()
                        .map(|s| self.batch(std::slice::from_ref(s)).pop().unwrap_or_else(|| Err(unjudged(reason.clone()))))
                        .collect(),
                }
            }
        }
    }

    /// The scene is on a page that can play.
    fn ready(&mut self) -> Result<(), StageError> {
        let Some(open) = &self.open else { return Err(unjudged("no component is on the stage")) };
        // A page runs its scripts once: each case is a page of its own.
        if self.running.is_none() || open.cases >= MOST_CASES || open.cases > 0 && open.scene.is_of_pages() {
            let scene = open.scene.clone();
            let told = self.load(&scene)?;
            self.open = Some(Open { scene, told, cases: 0 });
        }
        Ok(())
    }

    fn observation(&self, said: Json) -> Result<Observation, StageError> {
        if let Some(lost) = said.get("lost") {
            return Err(unjudged(format!("the stage itself failed: {}", lost.as_str().unwrap_or_default())));
        }
        let phases: Vec<Looked> =
            serde_json::from_value(said["played"].clone()).map_err(|e| unjudged(format!("the page's answer cannot be read: {e}")))?;
        let Some(running) = &self.running else { return Err(unjudged("there is no browser")) };
        let stacks = phases.iter().flat_map(|p| p.notes.iter().map(|n| n.stack.clone())).collect::<Vec<_>>();
        let mut places = if stacks.is_empty() { Vec::new() } else { running.modules.places(stacks) }.into_iter();
        let phases = phases.into_iter().map(|looked| {
            let of = places.by_ref().take(looked.notes.len()).collect();
            seen(looked, of).ok_or_else(|| unjudged("the page cannot be read"))
        });
        Ok(Observation::new(phases.collect::<Result<_, _>>()?))
    }
}

impl Stage for Browser {
    fn open(&mut self, scene: &Scene) -> Result<Opened, StageError> {
        match &self.open {
            Some(open) if open.scene == *scene && self.running.is_some() => {}
            _ => {
                self.open = None;
                let told = self.load(scene)?;
                self.open = Some(Open { scene: scene.clone(), told, cases: 0 });
            }
        }
        Ok(self.open.as_ref().map(|o| o.told.clone()).unwrap_or_default())
    }

    fn play(&mut self, script: &Script) -> Result<Observation, StageError> {
        self.batch(std::slice::from_ref(script)).pop().unwrap_or_else(|| Err(unjudged("nothing was played")))
    }

    fn play_all(&mut self, scripts: &[Script]) -> Vec<Result<Observation, StageError>> {
        let size = if self.open.as_ref().is_some_and(|o| o.scene.is_of_pages()) { 1 } else { BATCH };
        scripts.chunks(size).flat_map(|batch| self.batch(batch)).collect()
    }

    fn is_far(&self) -> bool {
        true
    }

    fn renew(&mut self) {
        if let Some(open) = &mut self.open
            && open.cases > 0
        {
            open.cases = MOST_CASES;
        }
    }
}

/// A path that nobody can guess.
pub fn secret() -> String {
    use std::hash::{BuildHasher, Hasher, RandomState};
    // Keys of the standard hasher come from the system's random source.
    (0..2)
        .map(|i| {
            let mut hasher = RandomState::new().build_hasher();
            hasher.write_u8(i);
            format!("{:016x}", hasher.finish())
        })
        .collect()
}
