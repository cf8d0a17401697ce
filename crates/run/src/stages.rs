//! On which stage components are played.

use std::path::PathBuf;
use std::sync::{Arc, Mutex};
use std::time::Duration;

use fidelon_browser::{Browser, DriverChoice};
use fidelon_core::scene::Scene;
use fidelon_core::stage::{Expressions, Stage};
use fidelon_loader::{Aliases, Cache};
use fidelon_stage::{Apart, Lasting, Limits, Options, Sandbox};

/// Where.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub enum StageKind {
    /// In this process.
    #[default]
    Embedded,
    /// In a real browser.
    Browser {
        /// The remote end.
        driver: DriverChoice,
        /// Whether steps of a person are made by the browser's own input.
        real: bool,
    },
}

/// How stages are set up.
#[derive(Debug, Clone)]
pub struct StageOptions {
    /// What every stage needs.
    pub common: Options,
    /// Which stage it is.
    pub on: StageKind,
    /// The program whose processes play components on the embedded stage; without one they are played in this process.
    pub program: Option<PathBuf>,
    /// Stages that were used before and are used again: their frameworks' compilers are loaded.
    pool: Option<Pool>,
}

/// Stages that wait for work, and what evaluates expressions beside them.
#[derive(Debug, Default)]
pub(crate) struct Waiting {
    stages: Vec<Apart>,
    expressions: Vec<Lasting>,
}

type Pool = Arc<Mutex<Waiting>>;

/// A stage for the work of one run, and what evaluates expressions beside it.
pub(crate) enum Borrowed {
    /// Given back when the work is done.
    Pooled(Option<Apart>, Option<Lasting>, Pool),
    /// Thrown away.
    Own(Box<dyn Stage>, Box<Sandbox>),
}

impl Borrowed {
    pub(crate) fn of(&mut self) -> (&mut dyn Stage, &mut dyn Expressions) {
        const THERE: &str = "it is there until it is given back";
        match self {
            Self::Pooled(stage, expressions, _) => (stage.as_mut().expect(THERE), expressions.as_mut().expect(THERE)),
            Self::Own(stage, sandbox) => (stage.as_mut(), sandbox.as_mut()),
        }
    }
}

impl Drop for Borrowed {
    fn drop(&mut self) {
        if let Self::Pooled(stage, expressions, pool) = self
            && let Some(mut stage) = stage.take()
        {
            if let Ok(mut pool) = pool.lock() {
                pool.expressions.extend(expressions.take().filter(Lasting::is_alive));
            }
            let pool = pool.clone();
            // A realm takes a while to be taken down, and nobody waits for that.
            let prepare = move || {
                stage.prepare(None);
                if let Ok(mut pool) = pool.lock() {
                    pool.stages.push(stage);
                }
            };
            // Where the system gives no thread, the next who asks gets another.
            let _ = std::thread::Builder::new().spawn(prepare);
        }
    }
}

impl StageOptions {
    /// The set-up from plain values; no folder keeps nothing between runs.
    pub fn new(root: PathBuf, cache: Option<PathBuf>, deadline: Duration, memory_mib: usize, on: StageKind) -> Self {
        let cache = cache.map_or_else(Cache::none, Cache::at);
        Self {
            common: Options { root, cache, aliases: Aliases::default(), limits: Limits { deadline, memory_mib, ..Limits::default() } },
            on,
            program: None,
            pool: None,
        }
    }

    /// The same with components played in processes of this program, which has called [`fidelon_stage::apart::worker::serve_if_asked`].
    #[must_use]
    pub fn in_processes_of(mut self, program: PathBuf) -> Self {
        self.program = Some(program);
        self
    }

    /// An embedded stage with nothing on it.
    fn apart(&self) -> Apart {
        match &self.program {
            Some(program) => Apart::in_process(self.common.clone(), program.clone()),
            None => Apart::on_thread(self.common.clone()),
        }
    }

    /// The same with what the project calls its folders.
    #[must_use]
    pub fn knowing(mut self, aliases: Aliases) -> Self {
        self.common.aliases = aliases;
        self
    }

    /// The same with stages that are used again from run to run, which see files as they are at the start of each.
    #[must_use]
    pub fn pooled(mut self) -> Self {
        self.pool = Some(Arc::default());
        self
    }

    /// Gets stages ready for a scene, where they are used again.
    pub(crate) fn warm(&self, scene: &Scene, count: usize) {
        let (StageKind::Embedded, Some(pool)) = (&self.on, &self.pool) else { return };
        for _ in 0..count {
            let mut stage = self.apart();
            stage.prepare(Some(scene));
            let expressions = Lasting::new().ok();
            if let Ok(mut pool) = pool.lock() {
                pool.stages.push(stage);
                pool.expressions.extend(expressions);
            }
        }
    }

    /// A stage for one run.
    pub(crate) fn borrow(&self) -> Borrowed {
        match (&self.on, &self.pool) {
            (StageKind::Embedded, Some(pool)) => {
                let used = pool.lock().ok().map(|mut pool| (pool.stages.pop(), pool.expressions.pop()));
                let (stage, expressions) = used.unwrap_or_default();
                let expressions = expressions.or_else(|| Lasting::new().ok());
                let mut stage = stage.unwrap_or_else(|| self.apart());
                stage.look_anew();
                match expressions {
                    Some(expressions) => Borrowed::Pooled(Some(stage), Some(expressions), pool.clone()),
                    None => Borrowed::Own(Box::new(stage), Box::default()),
                }
            }
            _ => Borrowed::Own(self.stage(), Box::default()),
        }
    }

    /// The same project on the other kind of stage.
    #[must_use]
    pub fn other(&self) -> Self {
        let on = if self.on == StageKind::Embedded {
            StageKind::Browser { driver: DriverChoice::Found, real: false }
        } else {
            StageKind::Embedded
        };
        Self { on, pool: None, ..self.clone() }
    }

    /// A stage with nothing on it. A browser is started when it is first needed.
    pub fn stage(&self) -> Box<dyn Stage> {
        match &self.on {
            StageKind::Embedded => Box::new(self.apart()),
            StageKind::Browser { driver, real } => Box::new(Browser::new(fidelon_browser::Options {
                root: self.common.root.clone(),
                cache: self.common.cache.clone(),
                aliases: self.common.aliases.clone(),
                deadline: self.common.limits.deadline,
                driver: driver.clone(),
                real: *real,
            })),
        }
    }
}
