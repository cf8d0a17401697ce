//! A realm: one runtime with one window, its limits and its clock.

use std::cell::{Cell, Ref, RefCell};
use std::rc::Rc;
use std::sync::{Arc, OnceLock};

use fidelon_dom::Document;
use rquickjs::function::{IntoArgs, This};
use rquickjs::module::WriteOptions;
use rquickjs::{CatchResultExt, CaughtError, Context, Ctx, Function, Module, Object, Persistent, Promise, Runtime, Value};

use crate::api;
use crate::error::{EngineError, Thrown};
use crate::heap::Heap;
use crate::host::{Host, LogEntry};
use crate::limits::{LOADING, Limits, Meter};
use crate::modules::{Bridge, Graph, Modules};

/// The web APIs, in the order in which they build on one another.
const PRELUDE: [&str; 35] = [
    include_str!("../js/00-engine.js"),
    OWN,
    include_str!("../js/01-idl.js"),
    include_str!("../js/02-events.js"),
    include_str!("../js/03-nodes.js"),
    include_str!("../js/04-elements.js"),
    include_str!("../js/05-html.js"),
    include_str!("../js/06-activation.js"),
    include_str!("../js/06-media.js"),
    include_str!("../js/06-shadow.js"),
    include_str!("../js/06-custom.js"),
    include_str!("../js/06-overlays.js"),
    include_str!("../js/07-document.js"),
    include_str!("../js/07-ranges.js"),
    include_str!("../js/07-sheets.js"),
    include_str!("../js/08-clock.js"),
    include_str!("../js/08-layout.js"),
    include_str!("../js/09-easing.js"),
    include_str!("../js/09-animations.js"),
    include_str!("../js/09-styled.js"),
    include_str!("../js/09-made.js"),
    include_str!("../js/09-show.js"),
    include_str!("../js/10-window.js"),
    // The Streams Standard's, by a library of its own; made where somebody asks for it.
    "const vendoredStreams = () => { const exports = {}; const module = { exports };\n",
    include_str!("../js/vendor/web-streams.js"),
    "\nreturn exports; };\n",
    include_str!("../js/10-bytes.js"),
    include_str!("../js/10-geometry.js"),
    include_str!("../js/11-exchange.js"),
    include_str!("../js/11-messages.js"),
    include_str!("../js/13-fetch.js"),
    include_str!("../js/12-xhr.js"),
    include_str!("../js/12-feeds.js"),
    include_str!("../js/14-intl.js"),
    include_str!("../js/15-host.js"),
];
/// What the host's scripts go by, to stand first in their scope.
pub const OWN: &str = include_str!("../js/00-own.js");

const PRELUDE_NAME: &str = "stage:window";

/// What a stage in a real browser has in common with a realm, to run within one scope: the clock and chance, the console, messages, the
/// answering of requests. They expect `hide`, `expose`, `fire`, `defineHandlers`, `reportException`, `bodyText` and `here` there.
pub const SHARED: [&str; 6] = [
    include_str!("../js/08-clock.js"),
    include_str!("../js/09-show.js"),
    include_str!("../js/11-exchange.js"),
    include_str!("../js/11-messages.js"),
    include_str!("../js/12-xhr.js"),
    include_str!("../js/12-feeds.js"),
];

/// The prelude's bytecode, compiled once per process.
static PRELUDE_CODE: OnceLock<Arc<[u8]>> = OnceLock::new();

/// The prelude's text: a cache keys its compiled form by it.
pub fn prelude_source() -> String {
    PRELUDE.concat()
}

/// The compiled prelude, once a realm was made in this process.
pub fn prelude_bytecode() -> Option<Arc<[u8]>> {
    PRELUDE_CODE.get().cloned()
}

/// Gives a prelude that an earlier process compiled from the same text with the same engine.
pub fn provide_prelude(bytecode: Arc<[u8]>) {
    let _ = PRELUDE_CODE.set(bytecode);
}

/// How far a settling came.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Settled {
    /// How many tasks (timers, frames, messages) ran.
    pub tasks: u32,
    /// False when the budget of tasks or of promise jobs ran out: something keeps itself going.
    pub idle: bool,
}

/// Most tasks that one settling runs.
const MOST_TASKS: u32 = 2_000;
/// Most promise jobs between two tasks: what has more sets itself off without end.
const MOST_JOBS: u32 = 100_000;
/// Where the steps are used up, so many jobs are a chain of them and no single long one.
const MANY_JOBS: u32 = 1_000;

/// The object that the prelude makes for the host, which no script finds: what observes a component is not in its hands.
type HostObject = Rc<RefCell<Option<Persistent<Object<'static>>>>>;

/// A runtime with its window. Not to be moved between threads.
pub struct Realm {
    // Dropped in this order: no object may outlive the runtime, and the bytecode in `host` must.
    object: HostObject,
    context: Context,
    runtime: Runtime,
    host: Rc<Host>,
    heap: Heap,
    meter: Meter,
    limits: Limits,
    graph: Rc<Graph>,
    broken: Cell<bool>,
}

impl std::fmt::Debug for Realm {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        f.debug_struct("Realm").field("limits", &self.limits).finish_non_exhaustive()
    }
}

impl Realm {
    /// A realm with a blank document.
    ///
    /// # Errors
    /// When the engine cannot be started.
    pub fn new(limits: Limits, modules: Box<dyn Modules>) -> Result<Self, EngineError> {
        let engine = |e: rquickjs::Error| EngineError::Engine(e.to_string());
        let heap = Heap::default();
        let runtime = Runtime::new_with_alloc(heap.allocator()).map_err(engine)?;
        // Not the runtime's own limit: of a block that it refuses nobody hears.
        heap.limit(limits.memory_mib << 20);
        runtime.set_max_stack_size(limits.stack_mib << 20);
        // Most of what a case leaves is freed by counting references; cycles are looked for when the host says so, between cases.
        runtime.set_gc_threshold(48 << 20);
        let meter = Meter::default();
        meter.weight().limit(limits.memory_mib << 20);
        let handler = meter.clone();
        runtime.set_interrupt_handler(Some(Box::new(move || handler.interrupt())));
        let host = Rc::new(Host::new(meter.clone()));
        let graph = Rc::new(Graph::default());
        let bridge = Bridge {
            modules: Rc::new(RefCell::new(modules)),
            host: host.clone(),
            compile: limits.times(LOADING).deadline,
            graph: graph.clone(),
        };
        runtime.set_loader(bridge.clone(), bridge);
        let object = HostObject::default();
        let tracking = object.clone();
        runtime.set_host_promise_rejection_tracker(Some(Box::new(move |ctx, promise, reason, handled| {
            let host_object = tracking.borrow().clone().and_then(|object| object.restore(&ctx).ok());
            if let Some(rejected) = host_object.and_then(|h| h.get::<_, Function<'_>>("rejected").ok()) {
                let _ = rejected.call::<_, ()>((promise, reason, handled));
            }
        })));
        let context = Context::full(&runtime).map_err(engine)?;
        let realm = Self { object, context, runtime, host, heap, meter, limits, graph, broken: Cell::new(false) };
        realm.run(|ctx| realm.start(ctx))?;
        Ok(realm)
    }

    fn start<'js>(&self, ctx: &Ctx<'js>) -> rquickjs::Result<()> {
        ctx.globals().set("__native", api::natives(ctx, &self.host)?)?;
        ctx.eval::<(), _>("Error.stackTraceLimit = 50")?;
        let module = match PRELUDE_CODE.get() {
            Some(bytes) => {
                self.host.bytecode.borrow_mut().push(bytes.clone());
                // SAFETY: written by `Module::write` of this engine version, and kept alive by the host.
                unsafe { Module::load(ctx.clone(), bytes)? }
            }
            None => {
                let module = Module::declare(ctx.clone(), PRELUDE_NAME, prelude_source())?;
                let bytes = module.write(WriteOptions { strip_source: true, ..WriteOptions::default() })?;
                let _ = PRELUDE_CODE.set(bytes.into());
                module
            }
        };
        let (module, promise) = module.eval()?;
        promise.finish::<()>()?;
        let object: Object<'_> = module.get("host")?;
        *self.object.borrow_mut() = Some(Persistent::save(ctx, object));
        Ok(())
    }

    /// The object that the prelude made for the host.
    fn object<'js>(&self, ctx: &Ctx<'js>) -> rquickjs::Result<Object<'js>> {
        let object = self.object.borrow().clone();
        object.map_or_else(|| Err(rquickjs::Error::Unknown), |object| object.restore(ctx))
    }

    /// Runs a piece of work under the limits and tells what was thrown.
    fn run<T>(&self, work: impl for<'js> FnOnce(&Ctx<'js>) -> rquickjs::Result<T>) -> Result<T, EngineError> {
        if self.broken.get() {
            return Err(EngineError::Engine("the realm was lost before".into()));
        }
        self.meter.begin(self.limits.steps());
        let mut result = self.context.with(|ctx| work(&ctx).catch(&ctx).map_err(explain));
        self.meter.end();
        // Scripts catch what the engine throws at a limit like anything else: what came of the call then means nothing.
        if let Some(limit) = self.limit_hit() {
            result = Err(limit);
        }
        if result.as_ref().is_err_and(EngineError::is_fatal) {
            self.broken.set(true);
        }
        result
    }

    /// Has all that `work` asks of this realm count as one activity, which may take so many times the deadline.
    pub fn activity<T>(&self, factor: u32, work: impl FnOnce() -> T) -> T {
        self.meter.begin(self.limits.times(factor).steps());
        let out = work();
        self.meter.end();
        out
    }

    /// The work that scripts have done in it so far, in steps of the engine.
    pub fn work(&self) -> u64 {
        self.meter.total()
    }

    /// The limit that was hit, if any was.
    fn limit_hit(&self) -> Option<EngineError> {
        if self.heap.has_refused() || self.meter.weight().is_over() {
            return Some(EngineError::Memory(self.limits.memory_mib));
        }
        self.meter.has_run_out().then(|| EngineError::Deadline {
            steps: self.meter.allowed(),
            deadline: u64::try_from(self.limits.deadline.as_millis()).unwrap_or(u64::MAX),
        })
    }

    /// True when a limit was hit, or imports tore a circle of modules: the realm must be dropped.
    pub fn is_broken(&self) -> bool {
        self.broken.get() || self.graph.is_torn()
    }

    /// Imports a module by name and runs what follows from it.
    ///
    /// # Errors
    /// What the module, or one that it imports, threw, or the limit that was hit.
    pub fn import(&self, name: &str) -> Result<(), EngineError> {
        self.run(|ctx| {
            let promise = Module::import(ctx, name)?;
            let hook: Function<'_> =
                ctx.eval("(p, o) => { p.then(() => { o.done = true }, (e) => { o.done = true; o.error = e; o.failed = true }) }")?;
            let state = Object::new(ctx.clone())?;
            hook.call::<_, ()>((promise, state.clone()))?;
            while !state.get::<_, Option<bool>>("done")?.unwrap_or(false) {
                if self.meter.is_over() || !ctx.execute_pending_job() {
                    break;
                }
                self.meter.count_job();
            }
            if state.get::<_, Option<bool>>("failed")?.unwrap_or(false) {
                let error: Value<'_> = state.get("error")?;
                return Err(ctx.throw(error));
            }
            Ok(())
        })?;
        self.settle(0.0).map(|_| ())
    }

    /// Calls `object.method(argument)` with a string, and gives its string: of what stands under that name with the host, or else of the
    /// window. `undefined` gives an empty one.
    ///
    /// # Errors
    /// What it threw, or the limit that was hit.
    pub fn call(&self, object: &str, method: &str, argument: &str) -> Result<String, EngineError> {
        self.run(|ctx| {
            let own: Option<Object<'_>> = self.object(ctx)?.get(object)?;
            let object = own.map_or_else(|| ctx.globals().get(object), Ok)?;
            let function: Function<'_> = object.get(method)?;
            let value: Value<'_> = function.call((This(object), argument))?;
            Ok(api::text::plain_or_empty(&value))
        })
    }

    /// Adds a global function that reads the document: `name(text)` gives a text. For realms without a stranger's code.
    ///
    /// # Errors
    /// When the engine refuses.
    pub fn define(&self, name: &str, function: impl Fn(&Document, &str) -> String + 'static) -> Result<(), EngineError> {
        let host = self.host.clone();
        self.run(|ctx| {
            let native = Function::new(ctx.clone(), move |text: String| function(&host.doc.borrow(), &text))?;
            ctx.globals().set(name, native)
        })
    }

    /// Gives the host a function that reads the document: `host.name(text)` gives a text.
    ///
    /// # Errors
    /// When the engine refuses.
    pub fn lend(&self, name: &str, function: impl Fn(&Document, &str) -> String + 'static) -> Result<(), EngineError> {
        let host = self.host.clone();
        self.run(|ctx| {
            let native = Function::new(ctx.clone(), move |text: String| function(&host.doc.borrow(), &text))?;
            self.object(ctx)?.set(name, native)
        })
    }

    /// Runs all promise jobs that wait, and what follows at once: rejections that nobody handled are told, and dialogs, popovers and
    /// details tell that they were opened or closed. False when there was no end of them.
    ///
    /// # Errors
    /// The limit that was hit.
    pub fn drain(&self) -> Result<bool, EngineError> {
        self.turns(None, false).map(|settled| settled.idle)
    }

    /// Runs the promise jobs that wait; false when there is no end of them. Then something sets itself off again and again, and what it
    /// shows meanwhile can still be looked at; a single job that does not return is lost like any call.
    fn jobs(&self) -> Result<bool, EngineError> {
        self.meter.begin(self.limits.steps());
        let mut count = 0;
        let mut ends = true;
        while self.runtime.is_job_pending() {
            let before = self.meter.steps();
            // A job that throws has told its promise.
            let _ = self.runtime.execute_pending_job();
            self.meter.count_job();
            count += 1;
            let alone = self.meter.steps() - before;
            if self.meter.has_run_out() && count >= MANY_JOBS && alone < self.meter.allowed() / 2 {
                self.meter.excuse();
                ends = false;
            }
            if count == MOST_JOBS {
                ends = false;
            }
            if !ends || self.meter.is_over() || self.heap.has_refused() {
                break;
            }
        }
        self.meter.end();
        match self.limit_hit() {
            Some(limit) => {
                self.broken.set(true);
                Err(limit)
            }
            None => Ok(ends),
        }
    }

    fn host_call<T: for<'js> rquickjs::FromJs<'js>>(&self, method: &str, arguments: impl for<'js> IntoArgs<'js>) -> Result<T, EngineError> {
        self.run(|ctx| {
            let function: Function<'_> = self.object(ctx)?.get(method)?;
            function.call(arguments)
        })
    }

    /// Runs promise jobs and every task that is due within `window` milliseconds of virtual time, then leaves the clock
    /// at the last task that ran. Timers of no time that start one another are followed to their end.
    ///
    /// # Errors
    /// The limit that was hit.
    pub fn settle(&self, window: f64) -> Result<Settled, EngineError> {
        self.turns(Some(window), true)
    }

    /// Turns of the event loop, at most [`MOST_TASKS`]: a case mostly has one, in which nothing is left to do.
    fn turns(&self, window: Option<f64>, onward: bool) -> Result<Settled, EngineError> {
        let mut tasks = 0;
        if !self.jobs()? {
            return Ok(Settled { tasks, idle: false });
        }
        loop {
            match self.host_call::<i32>("turn", (tasks == 0, window, onward))? {
                0 => return Ok(Settled { tasks, idle: true }),
                1 => tasks += 1,
                _ => return Ok(Settled { tasks, idle: false }),
            }
            if !self.jobs()? || tasks == MOST_TASKS {
                return Ok(Settled { tasks, idle: false });
            }
        }
    }

    /// Lets virtual time pass: all that is due runs, and the clock stands at the end of it.
    ///
    /// # Errors
    /// The limit that was hit.
    pub fn elapse(&self, milliseconds: f64) -> Result<Settled, EngineError> {
        let end = self.host_call::<f64>("now", ())? + milliseconds;
        let settled = self.turns(Some(milliseconds), false)?;
        self.host_call::<()>("arrive", (end,))?;
        Ok(settled)
    }

    /// Marks the present state as the one that [`Realm::reset`] returns to.
    ///
    /// # Errors
    /// When the engine refuses.
    pub fn keep(&self) -> Result<(), EngineError> {
        self.host_call("keep", ())
    }

    /// Brings document, listeners, globals, timers, storage, clock and chance back to where [`Realm::keep`] found them.
    ///
    /// # Errors
    /// When the engine refuses.
    pub fn reset(&self, seed: i32) -> Result<(), EngineError> {
        self.reset_at(seed, None)
    }

    /// The same, with the clock set to a time in milliseconds since 1970.
    ///
    /// # Errors
    /// When the engine refuses.
    pub fn reset_at(&self, seed: i32, starts: Option<i64>) -> Result<(), EngineError> {
        self.host.log.borrow_mut().clear();
        self.meter.weight().reset();
        #[allow(clippy::cast_precision_loss, reason = "times of day are far below 2^53 ms")]
        self.host_call("reset", (seed, starts.map(|ms| ms as f64)))
    }

    /// The document, to be read.
    pub fn document(&self) -> Ref<'_, Document> {
        self.host.doc.borrow()
    }

    /// What was logged since the last time.
    pub fn take_log(&self) -> Vec<LogEntry> {
        std::mem::take(&mut *self.host.log.borrow_mut())
    }

    /// How many nodes were made in this realm, and the heap in bytes: what tells when to start afresh.
    pub fn usage(&self) -> (usize, usize) {
        (self.host.doc.borrow().len(), self.heap.used())
    }

    /// Frees what is reachable no more, cycles too; to be asked for between a reset and the next case.
    ///
    /// # Errors
    /// When the engine refuses.
    pub fn collect(&self) -> Result<(), EngineError> {
        self.runtime.run_gc();
        self.host_call("sweep", ())
    }

    /// The source map that a function brought which was made of a text of this name, in base64.
    pub fn map_of_made(&self, name: &str) -> Option<Rc<str>> {
        self.host.maps.borrow().get(name).cloned()
    }

    /// Evaluates a script and gives its value as text. For tests and expressions.
    ///
    /// # Errors
    /// What it threw, or the limit that was hit.
    pub fn eval(&self, source: &str) -> Result<String, EngineError> {
        self.run(|ctx| {
            let value: Value<'_> = ctx.eval(source)?;
            Ok(api::text::plain_or_empty(&value))
        })
    }

    /// Waits for a promise-valued script: evaluates it, settles, and gives the outcome. For code that compiles.
    ///
    /// # Errors
    /// What it threw or rejected with, or the limit that was hit.
    pub fn eval_promise(&self, source: &str) -> Result<String, EngineError> {
        self.run(|ctx| {
            let promise: Promise<'_> = ctx.eval(source)?;
            let value: Value<'_> = promise.finish()?;
            Ok(api::text::plain_or_empty(&value))
        })
    }
}

impl Drop for Realm {
    fn drop(&mut self) {
        // The tracker of rejections, which belongs to the runtime, shares it.
        self.object.borrow_mut().take();
    }
}

fn explain(caught: CaughtError<'_>) -> EngineError {
    match caught {
        CaughtError::Exception(e) => {
            let message = e.message().unwrap_or_default();
            let name: String = e.as_object().get("name").unwrap_or_else(|_| "Error".into());
            let message = if message.is_empty() { name } else { format!("{name}: {message}") };
            EngineError::Thrown(Thrown { message, stack: e.stack().unwrap_or_default() })
        }
        CaughtError::Value(v) => EngineError::Thrown(Thrown { message: api::text::plain(&v), stack: String::new() }),
        CaughtError::Error(e) => EngineError::Engine(e.to_string()),
    }
}
