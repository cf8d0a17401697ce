//! The stage in this process.

mod copied;

use std::cell::{Cell, RefCell};
use std::collections::BTreeMap;
use std::path::{Path, PathBuf};
use std::rc::Rc;
use std::sync::Arc;
use std::time::{Duration, Instant};

use fidelon_core::observation::{Note, Observation, PhaseSnapshot, SessionSnapshot, StepFault, Tone};
use fidelon_core::scene::Scene;
use fidelon_core::stage::{COSTLY_MOUNT, Dependencies, Edit, Mounting, Opened, ResolvedImport, Script, Stage, StageError, Step};

use fidelon_core::locator::Locator;
use fidelon_core::unjudged::{Unjudged, UnjudgedCause};
use fidelon_dom::{Document, NodeId};
use fidelon_engine::limits::LOADING;
use fidelon_engine::{EngineError, Limits, LogEntry, LogLevel, Realm, activity, realm};
use fidelon_loader::{Aliases, Cache, Importing, LoadError, Loader, served};
use fidelon_source::Place;
use serde::Deserialize;

use crate::compilers::RealmCompilers;
use crate::entry;
use crate::modules::{Ours, ProjectModules, thrown_while_loading};
use crate::places::{in_project, own_place, shown};

/// How long the page may go on, in virtual milliseconds, before it counts as at rest: three frames.
const SETTLE_WINDOW: f64 = 50.0;
/// A realm is replaced after so many cases, …
const MOST_CASES: usize = 1000;
/// … or when it has made so many nodes, …
const MOST_NODES: usize = 100_000;
/// … or when its heap has grown by so many bytes since it was new, although what is reachable no more was freed.
const MOST_GROWTH: usize = 32 << 20;
/// A built-in that counts no steps may take so many times the deadline in processor time.
const BUILT_INS: u32 = 4;
/// Cycles are looked for between cases, each time the heap has grown by so many bytes.
const GARBAGE: usize = 8 << 20;

/// What the frameworks' builds expect of their surroundings: development mode, and Vue's feature flags. Vue keeps all that happens
/// for its developer tools until it has waited for them in vain for three seconds, which no case lasts: it is told that they are
/// there, and they listen to nothing.
pub const SURROUNDINGS: &str = "Object.assign(globalThis, { process: { env: { NODE_ENV: 'development' }, platform: 'browser', cwd: () => '/', nextTick: (f, ...a) => queueMicrotask(() => f(...a)) }, \
    global: globalThis, __env: { MODE: 'development', DEV: true, PROD: false, SSR: false, BASE_URL: '/' }, __VUE_OPTIONS_API__: true, __VUE_PROD_DEVTOOLS__: false, \
    __VUE_PROD_HYDRATION_MISMATCH_DETAILS__: false, IS_REACT_ACT_ENVIRONMENT: undefined, \
    __VUE_DEVTOOLS_GLOBAL_HOOK__: { enabled: false, apps: [], emit() {}, on() {}, once() {}, off() {} }, \
    __styles(path, css) { const s = document.createElement('style'); s.textContent = css; document.head.append(s); } }); ''";

/// How a stage is set up.
#[derive(Debug, Clone)]
pub struct Options {
    /// The project's folder: places are told relative to it.
    pub root: PathBuf,
    /// Where transforms and bytecode are kept.
    pub cache: Cache,
    /// What the project calls its folders.
    pub aliases: Aliases,
    /// What component code may use.
    pub limits: Limits,
}

/// Where the wall time of the cases went so far: what benches print. Never part of a result.
#[derive(Debug, Clone, Copy, Default)]
pub struct Spent {
    /// How many cases were played.
    pub cases: u32,
    /// Starting realms: window, framework, component.
    pub start: Duration,
    /// Bringing the realm back between cases.
    pub reset: Duration,
    /// The component at work: mount, steps, coming to rest.
    pub play: Duration,
    /// Reading what is to be seen.
    pub observe: Duration,
}

/// A scene in its realm.
struct Open {
    scene: Scene,
    /// What is known of it.
    told: Opened,
    realm: Realm,
    /// Nodes, and bytes on its heap, when it was new.
    nodes: usize,
    heap: usize,
    /// Bytes on its heap when it was last rid of garbage.
    clean: Cell<usize>,
    cases: usize,
    /// What the first case was and took, until it is known whether an instance stays for the others.
    first: Cell<Option<u64>>,
}

/// A realm before its scene has come.
struct Bare {
    realm: Realm,
    ours: Ours,
    /// The first error that the loader met.
    fault: Rc<RefCell<Option<LoadError>>>,
}

/// A bare realm that has a scene's framework in it already: only the scene itself is missing.
struct Ready {
    bare: Bare,
    /// The file from whose place the framework was found.
    from: String,
    reached: fidelon_loader::LoadedFiles,
}

/// The embedded stage.
pub struct Embedded {
    options: Options,
    loader: Rc<RefCell<Loader>>,
    open: Option<Open>,
    ready: Option<Ready>,
    spent: Cell<Spent>,
}

impl std::fmt::Debug for Embedded {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        f.debug_struct("Embedded").field("options", &self.options).finish_non_exhaustive()
    }
}

impl Embedded {
    /// A stage with nothing on it.
    pub fn new(options: Options) -> Self {
        provide_prelude(&options.cache);
        let compilers = RealmCompilers::new(options.cache.clone(), options.aliases.clone(), &options.root);
        let loader = Rc::new(RefCell::new(Loader::new(options.cache.clone(), Box::new(compilers)).knowing(&options.aliases)));
        Self { options, loader, open: None, ready: None, spent: Cell::default() }
    }

    /// Takes everything off; from now on files are seen as they are.
    pub fn look_anew(&mut self) {
        self.open = None;
        self.loader.borrow_mut().forget();
    }

    /// Takes everything off; from now on these files have other texts than on the disk.
    pub fn edit_files(&mut self, edits: &[Edit]) {
        self.open = None;
        self.ready = None;
        let root = &self.options.root;
        let texts = edits.iter().map(|e| (root.join(&e.file).to_string_lossy().into_owned(), e.text.clone())).collect();
        self.loader.borrow_mut().edit(texts);
    }

    /// Whether the realm of what is open is to be replaced before anything more is played.
    pub(crate) fn is_worn(&self) -> bool {
        let Some(open) = &self.open else { return false };
        let (nodes, heap) = open.realm.usage();
        // A page runs its scripts once: each case is a page of its own.
        let is_page = open.cases > 0 && open.scene.is_of_pages();
        is_page || open.realm.is_broken() || open.cases >= MOST_CASES || nodes > MOST_NODES || heap > open.heap + MOST_GROWTH
    }

    /// Where the time went so far.
    pub fn spent(&self) -> Spent {
        self.spent.get()
    }

    /// The realm of the component on the stage, for benches that look inside.
    pub fn realm(&self) -> Option<&Realm> {
        self.open.as_ref().map(|o| &o.realm)
    }

    fn timed<T>(&self, part: impl FnOnce(&mut Spent) -> &mut Duration, work: impl FnOnce() -> T) -> T {
        let began = Instant::now();
        let out = work();
        let mut spent = self.spent.get();
        *part(&mut spent) += began.elapsed();
        self.spent.set(spent);
        out
    }

    fn start(&mut self, scene: &Scene) -> Result<Open, StageError> {
        let began = Instant::now();
        let allowed = self.options.limits.times(LOADING).deadline;
        let open = activity::during(|| LOADING_IT.into(), allowed, || self.start_realm(scene));
        let open = match open {
            Err(error) => self.start_elsewhere(scene, &error).unwrap_or(Err(error)),
            open => open,
        };
        let mut spent = self.spent.get();
        spent.start += began.elapsed();
        self.spent.set(spent);
        open
    }

    /// Modules that import each other run in an order that depends on which of them is asked for first, and an application asks for another one
    /// than the component: where one throws while it is loaded, it is loaded before the component. None where that is no other way.
    fn start_elsewhere(&mut self, scene: &Scene, error: &StageError) -> Option<Result<Open, StageError>> {
        let StageError::File { place: Some(place), .. } = error else { return None };
        let is_own = scene.parts.iter().any(|p| p.surface.file == place.file);
        if is_own || scene.styles.contains(&place.file) || place.file.contains("node_modules/") {
            return None;
        }
        let mut first = scene.clone();
        first.styles.insert(0, place.file.clone());
        let open = self.start_realm(&first).ok()?;
        Some(Ok(Open { scene: scene.clone(), ..open }))
    }

    fn start_realm(&mut self, scene: &Scene) -> Result<Open, StageError> {
        let from = self.settle_on(scene);
        let ours = entry::compiled(entry::modules(scene, &self.options.root), &from, &mut self.loader.borrow_mut());
        let ours = ours.map_err(|e| self.faulty(e))?;
        let bare = match self.take_ready(scene, &ours, &from) {
            Some(bare) => bare,
            None => self.bare(Rc::new(RefCell::new(ours)), &from)?,
        };
        let Bare { realm, fault, .. } = bare;
        let wrong = |e: EngineError| self.cannot_open(e, fault.borrow_mut().take());
        if let Some(origin) = origin_of(scene) {
            let send = move |_: &Document, request: &str| {
                let sent = serde_json::from_str(request).map_err(|e| e.to_string()).and_then(|sent| served::send(&origin, &sent));
                sent.map_or_else(|why| serde_json::json!({ "fail": true, "why": why }), |reply| serde_json::json!(reply)).to_string()
            };
            realm.lend("send", send).map_err(wrong)?;
        }
        realm.activity(LOADING, || realm.import(entry::ENTRY)).map_err(wrong)?;
        let said = realm.take_log();
        if let Some(first) = said.iter().find(|e| matches!(e.level, LogLevel::Uncaught)) {
            let message = in_project(&thrown_while_loading(&first.text), &self.options.root);
            return Err(StageError::File { message, place: self.place(&first.stack, Some(&realm)) });
        }
        let told = realm.call("stage", "opened", "").map_err(wrong)?;
        let told = serde_json::from_str(&told).map_err(|e| StageError::protocol(format!("the values of modules: {e}")))?;
        realm.keep().map_err(wrong)?;
        let (nodes, heap) = realm.usage();
        Ok(Open { scene: scene.clone(), told, nodes, heap, clean: Cell::new(heap), realm, cases: 0, first: Cell::new(None) })
    }

    /// Has the loader serve a scene; gives the file from whose place packages are found, that of the first component.
    fn settle_on(&self, scene: &Scene) -> String {
        let from = scene.parts.first().map(|p| self.options.root.join(&p.surface.file)).unwrap_or_default().to_string_lossy().into_owned();
        let folder = Path::new(&from).parent().unwrap_or(&self.options.root);
        self.loader.borrow_mut().keep_within(&[&self.options.root, folder]);
        self.loader.borrow_mut().serve_from(origin_of(scene));
        from
    }

    /// A realm with nothing in it but what every scene finds there.
    fn bare(&self, ours: Ours, from: &str) -> Result<Bare, StageError> {
        let fault: Rc<RefCell<Option<LoadError>>> = Rc::default();
        let modules = ProjectModules::new(self.loader.clone(), self.options.cache.clone(), ours.clone(), from, fault.clone());
        let wrong = |e: EngineError| self.cannot_open(e, None);
        let realm = Realm::new(self.options.limits, Box::new(modules)).map_err(wrong)?;
        keep_prelude(&self.options.cache);
        realm.eval(SURROUNDINGS).map_err(wrong)?;
        realm.lend("find", find).map_err(wrong)?;
        Ok(Bare { realm, ours, fault })
    }

    /// Gets ready for the same scene with other files: what does not change with them is loaded ahead.
    pub fn prepare(&mut self, scene: &Scene) {
        // What comes before the framework must stay before it: a project's set-up, and what Angular is patched by. A page brings its own.
        let comes_first = |p: &fidelon_core::scene::Part| p.surface.framework.record().loads_first;
        if !scene.setup.is_empty() || scene.parts.is_empty() || scene.parts.iter().any(comes_first) {
            return;
        }
        let from = self.settle_on(scene);
        self.loader.borrow_mut().have_compiler(&from);
        self.loader.borrow_mut().note_anew();
        let ours = entry::compiled(entry::modules(scene, &self.options.root), &from, &mut self.loader.borrow_mut());
        let Ok(mut ours) = ours else { return };
        ours.insert(entry::READY.to_owned(), entry::ready(scene).into());
        ours.remove(entry::ENTRY);
        let Ok(bare) = self.bare(Rc::new(RefCell::new(ours)), &from) else { return };
        if bare.realm.import(entry::READY).is_ok() && bare.realm.take_log().is_empty() {
            let reached = self.loader.borrow().reached();
            self.ready = Some(Ready { bare, from, reached });
        }
    }

    /// The realm that waits, if it fits a scene.
    fn take_ready(&mut self, scene: &Scene, ours: &BTreeMap<String, Arc<str>>, from: &str) -> Option<Bare> {
        let Ready { bare, from: then, reached } = self.ready.take()?;
        let own = |name: &str| name == entry::ENTRY || name == entry::READY;
        let same = {
            let there = bare.ours.borrow();
            let there = there.iter().filter(|(name, _)| !own(name));
            scene.setup.is_empty() && there.eq(ours.iter().filter(|(name, _)| !own(name)))
        };
        if !same || !self.loader.borrow().reaches(&reached, &then, from) {
            return None;
        }
        bare.ours.borrow_mut().extend(ours.iter().map(|(name, code)| (name.clone(), code.clone())));
        Some(bare)
    }

    fn cannot_open(&self, error: EngineError, fault: Option<LoadError>) -> StageError {
        if let Some(fault) = fault {
            return self.faulty(fault);
        }
        match error {
            EngineError::Thrown(thrown) => {
                // A syntax error that only the engine sees names its place in the stack, as does what a module throws.
                let place = self.place(&thrown.stack, None);
                StageError::File { message: in_project(&thrown_while_loading(&thrown.message), &self.options.root), place }
            }
            other => StageError::Unjudged(unjudged(other).while_doing(LOADING_IT)),
        }
    }

    fn faulty(&self, fault: LoadError) -> StageError {
        let file = shown(&fault.file, &self.options.root);
        let (line, column) = fault.at.unwrap_or((1, 1));
        StageError::File { message: in_project(&fault.message, &self.options.root), place: Some(Place { file, line, column }) }
    }

    fn place(&self, stack: &str, realm: Option<&Realm>) -> Option<Place> {
        own_place(stack, &self.loader.borrow(), &self.options.root, &|name| realm?.map_of_made(name))
    }

    /// Plays a script; gives what was seen, and whether anything goes on that nothing but a new realm ends.
    fn perform(&self, open: &Open, script: &Script) -> Result<(Observation, bool), Unjudged> {
        let realm = &open.realm;
        let begun = realm.work();
        let resetting = |e| unjudged(e).while_doing("clearing the page");
        self.timed(|s| &mut s.reset, || realm.reset_at(script.seed, script.surroundings.clock)).map_err(resetting)?;
        let (nodes, used) = realm.usage();
        if used > open.clean.get() + GARBAGE {
            self.timed(|s| &mut s.reset, || realm.collect()).map_err(resetting)?;
            open.clean.set(realm.usage().1);
        }
        let request = serde_json::to_string(&Mounting::of(script)).map_err(|e| UnjudgedCause::Protocol(e.to_string()))?;
        let mounted = self.at_work(realm, "mounting it", || {
            realm.call("stage", "mount", &request)?;
            realm.settle(SETTLE_WINDOW)
        })?;
        self.timed(|s| (s.cases += 1, &mut s.play).1, || ());
        // Of a phase without steps nothing: it sees what the one before left, events included.
        let mut phases = vec![Some(self.observe(realm, Vec::new(), mounted.idle)?)];
        let mut rests = mounted.idle;
        for steps in &script.phases {
            let mut faults = Vec::new();
            let mut idle = true;
            for (i, step) in steps.iter().enumerate() {
                match self.at_work(realm, &format!("the step `{step}`"), || self.step(realm, step))? {
                    (None, rests) => idle &= rests,
                    (Some(message), _) => {
                        faults.push(StepFault { step: i, message });
                        break;
                    }
                }
            }
            rests &= idle;
            phases.push(if steps.is_empty() { None } else { Some(self.observe(realm, faults, idle)?) });
        }
        // All is seen: whatever goes wrong while it is taken off is for the next realm to be rid of. What it set off is played
        // to its end: a scheduler that still waits for its message would wait in the next case too.
        let ended = self.at_work(realm, "removing it", || realm.call("stage", "end", "").and_then(|_| realm.settle(SETTLE_WINDOW)));
        number_anew(&mut phases, open.nodes, nodes);
        let mut shared: Vec<Rc<PhaseSnapshot>> = Vec::with_capacity(phases.len());
        for seen in phases {
            shared.extend(seen.map(Rc::new).or_else(|| shared.last().cloned()));
        }
        Ok((Observation { phases: shared, work: realm.work() - begun }, rests && ended.is_ok()))
    }

    /// Leaves an instance of the scene mounted, off the page, for all cases of this realm that follow: a library makes its styles, tokens and
    /// icons once as long as somebody uses them, and anew for each case otherwise. A realm in which nothing was played before has none.
    fn leave_one(&self, open: &Open, script: &Script) -> Result<(), Unjudged> {
        let realm = &open.realm;
        realm.reset_at(script.seed, script.surroundings.clock).map_err(|e| unjudged(e).while_doing("clearing the page"))?;
        let request = serde_json::to_string(&Mounting::of(script)).map_err(|e| UnjudgedCause::Protocol(e.to_string()))?;
        self.at_work(realm, "mounting it", || {
            realm.call("stage", "leave", &request)?;
            realm.settle(SETTLE_WINDOW)
        })?;
        Ok(())
    }

    /// The component at work: what it does counts as one activity, whatever is asked of the realm for it.
    fn at_work<T>(&self, realm: &Realm, doing: &str, work: impl FnOnce() -> Result<T, EngineError>) -> Result<T, Unjudged> {
        let allowed = self.options.limits.times(BUILT_INS).deadline;
        let done = activity::during(|| doing.to_owned(), allowed, || self.timed(|s| &mut s.play, || realm.activity(1, work)));
        done.map_err(|e| unjudged(e).while_doing(doing))
    }

    /// Plays a step task by task; gives what made it impossible, and whether the page came to rest.
    fn step(&self, realm: &Realm, step: &Step) -> Result<(Option<String>, bool), EngineError> {
        let plain = if let Step::In { inner, .. } = step { inner } else { step };
        if let Step::Elapse { milliseconds } = plain {
            let settled = realm.elapse(f64::from(*milliseconds))?;
            return Ok((None, settled.idle));
        }
        let request = serde_json::to_string(step).map_err(|e| EngineError::Engine(e.to_string()))?;
        realm.call("stage", "begin", &request)?;
        loop {
            let answer = realm.call("stage", "go", "")?;
            realm.drain()?;
            match answer.as_str() {
                "more" => {}
                "done" => break,
                other => return Ok((Some(other.strip_prefix("fault ").unwrap_or(other).to_owned()), true)),
            }
        }
        let settled = realm.settle(SETTLE_WINDOW)?;
        Ok((None, settled.idle))
    }

    fn observe(&self, realm: &Realm, faults: Vec<StepFault>, settled: bool) -> Result<PhaseSnapshot, Unjudged> {
        const DOING: &str = "reading what it shows";
        let allowed = self.options.limits.times(BUILT_INS).deadline;
        let look = || self.timed(|s| &mut s.observe, || self.look(realm, faults, settled));
        activity::during(|| DOING.into(), allowed, look).map_err(|e| unjudged(e).while_doing(DOING))
    }

    fn look(&self, realm: &Realm, faults: Vec<StepFault>, settled: bool) -> Result<PhaseSnapshot, EngineError> {
        let json = realm.call("stage", "observe", "")?;
        let told: SessionSnapshot = serde_json::from_str(&json).map_err(|e| EngineError::Engine(format!("the session's answer: {e}")))?;
        let (tree, numbers) = realm.document().snapshot();
        let notes = realm.take_log().into_iter().map(|e| self.note(e, realm)).collect();
        Ok(PhaseSnapshot { notes, faults, settled, ..told.seen(tree, numbers) })
    }

    fn note(&self, entry: LogEntry, realm: &Realm) -> Note {
        let tone = match entry.level {
            LogLevel::Log => Tone::Said,
            LogLevel::Warn | LogLevel::Error => Tone::Warned,
            LogLevel::Uncaught | LogLevel::Rejected => Tone::Failed,
        };
        Note { tone, place: self.place(&entry.stack, Some(realm)), text: entry.text }
    }
}

impl Stage for Embedded {
    fn open(&mut self, scene: &Scene) -> Result<Opened, StageError> {
        match &self.open {
            Some(open) if open.scene == *scene && !open.realm.is_broken() => {}
            _ => {
                self.open = None;
                self.loader.borrow_mut().note_anew();
                self.open = Some(self.start(scene)?);
            }
        }
        Ok(self.open.as_ref().map(|o| o.told.clone()).unwrap_or_default())
    }

    fn play(&mut self, script: &Script) -> Result<Observation, StageError> {
        let Some(open) = &self.open else { return Err(StageError::lost("no component was opened before it was to be played")) };
        if self.is_worn() {
            let scene = open.scene.clone();
            self.open = None;
            self.open = Some(self.start(&scene)?);
        }
        if let Some(open) = &mut self.open {
            open.cases += 1;
        }
        let open = self.open.as_ref().expect("opened above");
        if open.first.take().is_some_and(|took| took > COSTLY_MOUNT) && lets_one_stay(&open.scene) {
            // Where that fails, the case has a realm of its own: what it comes to is not the instance's doing.
            if self.leave_one(open, script).is_err() {
                self.renew();
                return self.play(script);
            }
        }
        let performed = self.perform(open, script);
        if open.cases == 1
            && let Ok((observation, true)) = &performed
        {
            open.first.set(Some(observation.work));
        }
        if !matches!(performed, Ok((_, true)))
            && let Some(open) = &mut self.open
        {
            // The next script gets a realm of its own.
            open.cases = MOST_CASES;
        }
        performed.map(|(observation, _)| observation).map_err(StageError::Unjudged)
    }

    fn reached(&mut self) -> Option<Dependencies> {
        // What a server renders is not of files.
        if self.open.as_ref()?.scene.parts.iter().any(|p| p.surface.is_served()) {
            return None;
        }
        let reached = self.loader.borrow().reached();
        let led = reached.led.into_iter().map(|((from, specifier, importing), to)| ResolvedImport {
            from,
            specifier,
            required: importing == Importing::CommonJs,
            to,
        });
        Some(Dependencies { files: reached.files.into_iter().collect(), led: led.collect() })
    }

    fn renew(&mut self) {
        if let Some(open) = &mut self.open
            && open.cases > 0
        {
            open.cases = MOST_CASES;
        }
    }
}

/// Whether a scene is of one component whose framework lets an instance stand by itself, that nobody renders or removes any more.
fn lets_one_stay(scene: &Scene) -> bool {
    scene.parts.len() == 1 && scene.parts.iter().all(|p| p.surface.framework.record().can_stand_by)
}

const LOADING_IT: &str = "loading it";

/// What the engine says, as a cause of having no verdict.
fn unjudged(error: EngineError) -> Unjudged {
    Unjudged::from(match error {
        EngineError::Deadline { steps, deadline } => UnjudgedCause::Deadline { steps, deadline },
        EngineError::Memory(mib) => UnjudgedCause::Memory(mib),
        EngineError::Thrown(thrown) => {
            UnjudgedCause::Fault(format!("{} {}", thrown.message, thrown.stack.lines().next().unwrap_or_default().trim()))
        }
        EngineError::Engine(message) => UnjudgedCause::Fault(message),
    })
}

/// The server of a scene whose component comes from one.
fn origin_of(scene: &Scene) -> Option<String> {
    scene.parts.iter().find(|p| p.surface.is_served()).and_then(|p| served::origin(&p.surface.file)).map(str::to_owned)
}

/// Nodes are numbered in the order in which the case made them, as if nothing had been played before: the same script gives the same
/// observation. What earlier cases left, a stylesheet in the head, keeps away from those numbers. `kept` nodes are there in every case;
/// those from `first` on are of this one.
fn number_anew(phases: &mut [Option<PhaseSnapshot>], kept: usize, first: usize) {
    let mut made: Vec<u32> = phases.iter().flatten().flat_map(|p| &p.numbers).map(|n| n.0).filter(|n| *n as usize >= first).collect();
    made.sort_unstable();
    made.dedup();
    for number in phases.iter_mut().flatten().flat_map(|p| &mut p.numbers).filter(|n| n.0 as usize >= kept) {
        number.0 = made.binary_search(&number.0).map_or(u32::MAX - number.0, |place| (kept + place) as u32);
    }
}

/// What the host's `find` is asked.
#[derive(Deserialize)]
struct Asked {
    locator: Locator,
    within: Option<NodeId>,
    started: Vec<NodeId>,
}

/// Answers it: the node, or what is wrong with the locator here.
fn find(doc: &Document, request: &str) -> String {
    match serde_json::from_str::<Asked>(request) {
        Ok(Asked { locator, within, started }) => {
            let found = locator.find_one(doc, within.unwrap_or(Document::ROOT), &started);
            found.map_or_else(|m| m, |id| format!("node {}", id.0))
        }
        Err(error) => error.to_string(),
    }
}

fn prelude_key() -> String {
    Cache::key(&[b"prelude", realm::prelude_source().as_bytes()])
}

/// Takes the engine's compiled prelude from the cache, once in a process.
fn provide_prelude(cache: &Cache) {
    if realm::prelude_bytecode().is_none()
        && let Some(bytes) = cache.get(&prelude_key())
    {
        realm::provide_prelude(bytes.into());
    }
}

fn keep_prelude(cache: &Cache) {
    static KEPT: std::sync::Once = std::sync::Once::new();
    KEPT.call_once(|| {
        let key = prelude_key();
        if let Some(bytes) = realm::prelude_bytecode()
            && cache.get(&key).is_none()
        {
            cache.put(&key, &bytes);
        }
    });
}

/// The folder of a project: the nearest one above that has a `package.json`, else the folder itself.
pub fn project_root(start: &Path) -> PathBuf {
    start.ancestors().find(|a| a.join("package.json").is_file()).unwrap_or(start).to_path_buf()
}
