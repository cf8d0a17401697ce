//! A stage on a thread of its own. The engine ends most of what runs too long by itself; what it cannot interrupt, a long
//! built-in, is left behind here: the thread is given up and another one goes on.

use std::sync::mpsc::{Receiver, RecvTimeoutError, Sender, channel};
use std::time::Duration;

use fidelon_core::observation::Observation;
use fidelon_core::scene::Scene;
use fidelon_core::stage::{Opened, Reached, Script, Stage, StageError};

use crate::embedded::{Embedded, Options};

/// The thread's own stack. The engine's limit must stay well below it.
const STACK: usize = 32 << 20;

enum Ask {
    Open(Box<Scene>),
    Play(Box<Script>),
    Reached,
    /// Nobody waits for this: it has no answer.
    Prepare(Box<Scene>),
    Anew,
    Renew,
}

enum Answer {
    Opened(Result<Opened, StageError>),
    Played(Result<Box<Observation>, StageError>),
    Reached(Option<Reached>),
    Renewed,
}

struct Worker {
    ask: Sender<Ask>,
    answer: Receiver<Answer>,
}

/// An [`Embedded`] stage behind a watchdog.
pub struct Guarded {
    options: Options,
    worker: Option<Worker>,
    open: Option<Scene>,
}

impl std::fmt::Debug for Guarded {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        f.debug_struct("Guarded").field("options", &self.options).finish_non_exhaustive()
    }
}

impl Guarded {
    /// A guarded stage with nothing on it.
    pub fn new(options: Options) -> Self {
        Self { options, worker: None, open: None }
    }

    /// Takes everything off; from now on files are seen as they are.
    pub fn look_anew(&mut self) {
        self.open = None;
        if self.worker.is_some() {
            let _ = self.request(Ask::Anew);
        }
    }

    /// Takes everything off as [`Guarded::look_anew`] does and gets ready for what was on the stage, or else for this scene, while nobody waits.
    pub fn prepare(&mut self, instead: Option<&Scene>) {
        let scene = self.open.take().or_else(|| instead.cloned());
        self.look_anew();
        if let Some(scene) = scene
            && let Ok(worker) = self.worker()
        {
            // One that is gone is replaced when it is asked for something.
            let _ = worker.ask.send(Ask::Prepare(Box::new(scene)));
        }
    }

    /// How long an answer may take: the engine's own deadline, several times over, since one script has many calls.
    fn patience(&self) -> Duration {
        self.options.limits.deadline * 4 + Duration::from_secs(60)
    }

    fn worker(&mut self) -> Result<&Worker, StageError> {
        if self.worker.is_none() {
            let (ask, asked) = channel();
            let (answers, answer) = channel();
            let options = self.options.clone();
            std::thread::Builder::new()
                .name("stage".into())
                .stack_size(STACK)
                .spawn(move || serve(options, &asked, &answers))
                .map_err(|e| StageError::Unjudged { reason: format!("no thread could be started: {e}") })?;
            self.worker = Some(Worker { ask, answer });
        }
        Ok(self.worker.as_ref().expect("started above"))
    }

    fn request(&mut self, ask: Ask) -> Result<Answer, StageError> {
        let patience = self.patience();
        let worker = self.worker()?;
        let lost = |reason: String| StageError::Unjudged { reason };
        let sent = worker.ask.send(ask);
        let answer = match sent {
            Ok(()) => worker.answer.recv_timeout(patience),
            Err(_) => Err(RecvTimeoutError::Disconnected),
        };
        answer.map_err(|error| {
            self.worker = None;
            match error {
                RecvTimeoutError::Timeout => {
                    lost(format!("the engine did not answer for {} s and could not be interrupted", patience.as_secs()))
                }
                RecvTimeoutError::Disconnected => lost("the stage was lost".into()),
            }
        })
    }
}

fn serve(options: Options, asked: &Receiver<Ask>, answers: &Sender<Answer>) {
    let mut stage = Embedded::new(options);
    while let Ok(ask) = asked.recv() {
        let answer = match ask {
            Ask::Open(scene) => Answer::Opened(stage.open(&scene)),
            Ask::Play(script) => Answer::Played(stage.play(&script).map(Box::new)),
            Ask::Reached => Answer::Reached(stage.reached()),
            Ask::Prepare(scene) => {
                stage.prepare(&scene);
                continue;
            }
            Ask::Anew => {
                stage.look_anew();
                Answer::Renewed
            }
            Ask::Renew => {
                stage.renew();
                Answer::Renewed
            }
        };
        if answers.send(answer).is_err() {
            return;
        }
    }
}

impl Stage for Guarded {
    fn open(&mut self, scene: &Scene) -> Result<Opened, StageError> {
        self.open = Some(scene.clone());
        match self.request(Ask::Open(Box::new(scene.clone())))? {
            Answer::Opened(result) => result,
            Answer::Played(_) | Answer::Reached(_) | Answer::Renewed => {
                Err(StageError::Unjudged { reason: "the stage answered out of turn".into() })
            }
        }
    }

    fn play(&mut self, script: &Script) -> Result<Observation, StageError> {
        // After the loss of a thread the new one has nothing on it.
        if self.worker.is_none()
            && let Some(scene) = self.open.clone()
        {
            self.open(&scene)?;
        }
        match self.request(Ask::Play(Box::new(script.clone())))? {
            Answer::Played(result) => result.map(|o| *o),
            Answer::Opened(_) | Answer::Reached(_) | Answer::Renewed => {
                Err(StageError::Unjudged { reason: "the stage answered out of turn".into() })
            }
        }
    }

    fn reached(&mut self) -> Option<Reached> {
        // What a lost worker reached nobody knows.
        self.worker.as_ref()?;
        match self.request(Ask::Reached) {
            Ok(Answer::Reached(reached)) => reached,
            _ => None,
        }
    }

    fn renew(&mut self) {
        // A lost worker is replaced by a fresh one anyway.
        if self.worker.is_some() {
            let _ = self.request(Ask::Renew);
        }
    }
}
