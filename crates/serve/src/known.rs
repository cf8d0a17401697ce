//! What is known of the project: components, what they declare, what holds. It is looked at anew whenever a file is saved.

use std::sync::mpsc::channel;
use std::sync::{Arc, RwLock};

use fidelon_core::results::Results;
use fidelon_run::survey::{self, Survey, SurveyError};
use fidelon_run::watching::{Watching, Woken};
use fidelon_run::{Request, check};
use tokio::sync::watch;

/// What is known.
pub(crate) struct Known {
    pub(crate) request: Request,
    now: RwLock<Now>,
    /// Counts up with every change of what is known.
    turn: watch::Sender<u64>,
}

/// What is known at a time.
#[derive(Clone, Default)]
pub(crate) struct Now {
    pub(crate) survey: Arc<Survey>,
    /// None while the first check goes on.
    pub(crate) results: Option<Arc<Results>>,
    /// Counts up with every save.
    pub(crate) saved: u64,
}

impl Known {
    pub(crate) fn new(request: Request) -> Result<Self, SurveyError> {
        let survey = survey::survey(&request.root, &request.paths, &request.stage.common.cache)?;
        let now = Now { survey: Arc::new(survey), ..Now::default() };
        Ok(Self { request, now: RwLock::new(now), turn: watch::Sender::new(1) })
    }

    pub(crate) fn now(&self) -> Now {
        self.now.read().map(|now| now.clone()).unwrap_or_default()
    }

    /// What tells one state from the next.
    pub(crate) fn turn(&self) -> watch::Receiver<u64> {
        self.turn.subscribe()
    }

    fn change(&self, change: impl FnOnce(&mut Now)) {
        if let Ok(mut now) = self.now.write() {
            change(&mut now);
        }
        self.turn.send_modify(|turn| *turn += 1);
    }

    /// What there is, as files are now.
    fn survey(&self) {
        // A folder that was taken away while somebody looks at it: what was known stays.
        if let Ok(survey) = survey::survey(&self.request.root, &self.request.paths, &self.request.stage.common.cache) {
            self.change(|now| {
                now.survey = Arc::new(survey);
                now.saved += 1;
            });
        }
    }

    fn check(&self) {
        if let Ok(outcome) = check(&self.request, &|_| {}) {
            self.change(|now| now.results = Some(Arc::new(outcome.results)));
        }
    }
}

/// Looks and checks once, and again after every save: two threads, so that nobody waits for a check to see what was saved.
///
/// # Errors
/// Why files cannot be watched, in words.
pub(crate) fn follow(known: &Arc<Known>) -> Result<(), String> {
    let (tell, told) = channel::<Woken<()>>();
    Watching::start(&known.request.root)?.into_channel(tell);
    let (ask, asked) = channel::<()>();
    let checking = known.clone();
    std::thread::spawn(move || {
        checking.check();
        while asked.recv().is_ok() {
            // Several saves during a check are one.
            while asked.try_recv().is_ok() {}
            checking.check();
        }
    });
    let known = known.clone();
    std::thread::spawn(move || {
        known.survey();
        while told.recv().is_ok() {
            known.survey();
            if ask.send(()).is_err() {
                return;
            }
        }
    });
    Ok(())
}
