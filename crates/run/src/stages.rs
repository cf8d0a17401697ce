//! On which stage components are played.

use std::path::PathBuf;
use std::time::Duration;

use fidelon_browser::{Browser, Wanted};
use fidelon_core::stage::Stage;
use fidelon_loader::{Aliases, Cache};
use fidelon_stage::{Guarded, Limits, Options};

/// Where.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub enum On {
    /// In this process.
    #[default]
    Embedded,
    /// In a real browser.
    Browser {
        /// The remote end.
        driver: Wanted,
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
    pub on: On,
}

impl StageOptions {
    /// The set-up from plain values; no folder keeps nothing between runs.
    pub fn new(root: PathBuf, cache: Option<PathBuf>, deadline: Duration, memory_mib: usize, on: On) -> Self {
        let cache = cache.map_or_else(Cache::none, Cache::at);
        Self {
            common: Options { root, cache, aliases: Aliases::default(), limits: Limits { deadline, memory_mib, ..Limits::default() } },
            on,
        }
    }

    /// The same with what the project calls its folders.
    #[must_use]
    pub fn knowing(mut self, aliases: Aliases) -> Self {
        self.common.aliases = aliases;
        self
    }

    /// The same project on the other kind of stage.
    #[must_use]
    pub fn other(&self) -> Self {
        let on = if self.on == On::Embedded { On::Browser { driver: Wanted::Found, real: false } } else { On::Embedded };
        Self { on, ..self.clone() }
    }

    /// A stage with nothing on it. A browser is started when it is first needed.
    pub fn stage(&self) -> Box<dyn Stage> {
        match &self.on {
            On::Embedded => Box::new(Guarded::new(self.common.clone())),
            On::Browser { driver, real } => Box::new(Browser::new(fidelon_browser::Options {
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
