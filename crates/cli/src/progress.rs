//! What a run tells while it goes on: findings in the order of the plan as they come, events for programs, and how far it is.

use std::collections::BTreeMap;
use std::fs::File;
use std::io::{IsTerminal as _, Write as _};
use std::path::{Path, PathBuf};
use std::sync::{Arc, Mutex, OnceLock, PoisonError};
use std::time::{Duration, Instant};

use anyhow::Context as _;
use fidelon_core::results::Component;
use fidelon_report::terminal::{self, ToldBefore};
use fidelon_report::{Style, challenged};
use fidelon_run::RunEvent;

use crate::setting;

/// A run is quiet for so long before it says how far it is, …
const SOON: Duration = Duration::from_millis(400);
/// … and where there is no terminal it says so no more often than this.
const NOW_AND_THEN: Duration = Duration::from_secs(30);

/// Components that are printed as they are judged.
struct Printing {
    root: PathBuf,
    style: Style,
    width: usize,
    /// The one that is printed next, and those that were judged before their turn.
    next: usize,
    waiting: BTreeMap<usize, Waiting>,
    before: ToldBefore,
}

/// What waits for its turn to be printed.
enum Waiting {
    Judged(Box<Component>),
    Text(String),
}

struct State {
    printing: Option<Printing>,
    events: Option<(PathBuf, File)>,
    /// Why events could not be written.
    failed: Option<String>,
    of: usize,
    done: usize,
    running: Vec<String>,
    drawn: bool,
    told: Instant,
}

/// Follows a run.
pub struct Progress {
    state: Mutex<State>,
    started: Instant,
    live: bool,
}

/// The run that an interrupt ends.
static RUNNING: OnceLock<Mutex<Option<Arc<Progress>>>> = OnceLock::new();

impl Progress {
    /// Follows a run that prints nothing until its end.
    pub fn quiet() -> Arc<Self> {
        let state =
            State { printing: None, events: None, failed: None, of: 0, done: 0, running: Vec::new(), drawn: false, told: Instant::now() };
        let progress = Arc::new(Self { state: Mutex::new(state), started: Instant::now(), live: std::io::stderr().is_terminal() });
        if let Ok(mut running) = RUNNING.get_or_init(Mutex::default).lock() {
            *running = Some(progress.clone());
        }
        progress
    }

    /// The same, printing each component as it is judged, in the order of the plan.
    pub fn printing(root: &Path, style: Style) -> Arc<Self> {
        let progress = Self::quiet();
        progress.lock().printing =
            Some(Printing { root: root.to_path_buf(), style, width: 0, next: 0, waiting: BTreeMap::new(), before: ToldBefore::default() });
        progress
    }

    /// Has events written to a file as they come, a line of JSON each.
    pub fn write_events(&self, file: &Path) -> anyhow::Result<()> {
        let made = File::create(file).with_context(|| format!("`{}` cannot be written", file.display()))?;
        self.lock().events = Some((file.to_path_buf(), made));
        Ok(())
    }

    fn lock(&self) -> std::sync::MutexGuard<'_, State> {
        self.state.lock().unwrap_or_else(PoisonError::into_inner)
    }

    /// Takes an event of the run.
    pub fn tell(&self, event: &RunEvent) {
        let mut state = self.lock();
        state.write(event);
        match event {
            RunEvent::Surveyed { components, .. } => {
                state.of = components.len();
                if let Some(printing) = &mut state.printing {
                    printing.width = terminal::column(components.iter().map(String::as_str), printing.style);
                }
            }
            RunEvent::Started { component } => state.running.push(component.clone()),
            RunEvent::Judged { index, component, done } => {
                state.done = state.done.max(*done);
                state.running.retain(|name| *name != component.component);
                if state.printing.is_some() {
                    state.clear();
                }
                if let Some(printing) = &mut state.printing {
                    printing.put(*index, Waiting::Judged(component.clone()));
                }
            }
            RunEvent::Challenged { index, component, done } => {
                state.done = state.done.max(*done);
                state.running.retain(|name| *name != component.component);
                if state.printing.is_some() {
                    state.clear();
                }
                if let Some(printing) = &mut state.printing {
                    printing.put(*index, Waiting::Text(challenged::one(component, printing.width, printing.style)));
                }
            }
        }
        self.draw(&mut state);
    }

    fn draw(&self, state: &mut State) {
        if self.started.elapsed() < SOON || state.done == state.of {
            return;
        }
        let left = (state.done > 0).then(|| self.started.elapsed().as_secs_f64() / state.done as f64 * (state.of - state.done) as f64);
        let left = left.filter(|l| *l >= 2.0).map(|l| format!(" · about {} left", in_words(l))).unwrap_or_default();
        let at = state.running.first().map(|name| format!(" · {name}")).unwrap_or_default();
        let line: String = format!("{} of {} judged{left}{at}", state.done, state.of).chars().take(78).collect();
        if self.live {
            let _ = write!(std::io::stderr().lock(), "\r\u{1b}[2K{}", line.replace(char::is_control, "?"));
            state.drawn = true;
        } else if state.told.elapsed() >= NOW_AND_THEN {
            state.told = Instant::now();
            setting::note(&line);
        }
    }

    /// The run is over: nothing is drawn any more. What could not be written is an error.
    pub fn end(&self) -> anyhow::Result<()> {
        if let Some(running) = RUNNING.get()
            && let Ok(mut running) = running.lock()
        {
            *running = None;
        }
        let mut state = self.lock();
        state.clear();
        state.failed.take().map_or(Ok(()), |why| Err(anyhow::anyhow!(why)))
    }
}

impl State {
    fn write(&mut self, event: &RunEvent) {
        let Some((path, file)) = &mut self.events else { return };
        let line = serde_json::to_string(event).map(|text| text + "\n").map_err(std::io::Error::from);
        if let Err(error) = line.and_then(|line| file.write_all(line.as_bytes())) {
            self.failed.get_or_insert(format!("`{}` cannot be written: {error}", path.display()));
        }
    }

    fn clear(&mut self) {
        if std::mem::take(&mut self.drawn) {
            let _ = write!(std::io::stderr().lock(), "\r\u{1b}[2K");
        }
    }
}

impl Printing {
    /// Prints what is told of a component when its turn comes.
    fn put(&mut self, index: usize, told: Waiting) {
        self.waiting.insert(index, told);
        while let Some(told) = self.waiting.remove(&self.next) {
            self.next += 1;
            self.print(&told);
        }
    }

    fn print(&mut self, told: &Waiting) {
        match told {
            Waiting::Text(text) => setting::print(text),
            Waiting::Judged(component) => {
                let read = |file: &str| std::fs::read_to_string(self.root.join(file)).ok();
                setting::print(&terminal::one(component, self.width, self.style, &read, &mut self.before));
            }
        }
    }
}

/// Prints what an interrupted run has found so far, and says that it is not whole.
pub fn interrupted() {
    let running = RUNNING.get().and_then(|running| running.lock().ok()?.clone());
    let Some(progress) = running else { return };
    let mut state = progress.lock();
    state.clear();
    if let Some(printing) = &mut state.printing {
        for told in std::mem::take(&mut printing.waiting).into_values() {
            printing.print(&told);
        }
    }
    if state.of > 0 {
        setting::note(&format!("fidelon: interrupted: {} of {} components were judged, so this is not the whole", state.done, state.of));
    }
}

/// `40 s`, `3 min`.
fn in_words(seconds: f64) -> String {
    if seconds < 90.0 { format!("{seconds:.0} s") } else { format!("{:.0} min", seconds / 60.0) }
}
