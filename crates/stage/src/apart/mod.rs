//! A stage apart from whoever asks it: on a thread of its own, or in a process of its own. In a process, whatever a component does costs
//! one verdict: a stack that overflows, a full memory, a built-in that nobody can interrupt.
//!
//! | module | subject |
//! |---|---|
//! | [`wire`] | what is asked and answered, and how it is written |
//! | [`process`] | the process as who asks sees it |
//! | [`worker`] | the process itself |
//! | `copies` | copies of it, for realms in which nothing was played |

mod copies;
mod process;
mod wire;
pub mod worker;

use std::path::PathBuf;
use std::sync::Arc;
use std::sync::mpsc::{Receiver, Sender, channel};

use fidelon_core::observation::Observation;
use fidelon_core::scene::Scene;
use fidelon_core::stage::{Dependencies, Edit, Opened, Script, Stage, StageError};

use fidelon_source::unsaved::{self, Unsaved};

use self::process::Process;
use self::wire::{Answer, Ask};
use crate::STACK;
use crate::embedded::{Embedded, Options};

/// Who plays.
enum Worker {
    Thread { ask: Sender<Ask>, answer: Receiver<Answer> },
    Process(Process),
}

impl Worker {
    fn send(&mut self, ask: Ask) -> Result<(), StageError> {
        match self {
            Self::Thread { ask: to, .. } => to.send(ask).map_err(|_| lost()),
            Self::Process(process) => process.send(&ask),
        }
    }

    fn receive(&mut self) -> Result<Answer, StageError> {
        match self {
            Self::Thread { answer, .. } => answer.recv().map_err(|_| lost()),
            Self::Process(process) => process.receive(),
        }
    }
}

fn lost() -> StageError {
    StageError::lost("the thread of the stage was lost")
}

fn out_of_turn() -> StageError {
    StageError::protocol("unexpected response from the stage")
}

/// An [`Embedded`] stage apart.
pub struct Apart {
    options: Options,
    /// The program that is its own worker; without one the stage is on a thread, and what cannot be interrupted holds it up.
    program: Option<PathBuf>,
    worker: Option<Worker>,
    open: Option<Scene>,
    /// Files with other texts than on the disk.
    edits: Vec<Edit>,
    /// Texts that are not saved, as the worker knows them.
    unsaved: Arc<Unsaved>,
}

impl std::fmt::Debug for Apart {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        f.debug_struct("Apart").field("options", &self.options).field("program", &self.program).finish_non_exhaustive()
    }
}

impl Apart {
    /// A stage on a thread, with nothing on it.
    pub fn on_thread(options: Options) -> Self {
        Self { options, program: None, worker: None, open: None, edits: Vec::new(), unsaved: Arc::default() }
    }

    /// A stage in a process of this program, which must call [`worker::serve_if_asked`] before anything else, with nothing on it.
    pub fn in_process(options: Options, program: PathBuf) -> Self {
        Self { options, program: Some(program), worker: None, open: None, edits: Vec::new(), unsaved: Arc::default() }
    }

    /// Takes everything off; from now on files are seen as they are.
    pub fn look_anew(&mut self) {
        self.open = None;
        if self.worker.is_some() {
            // One that is gone is replaced when it is asked for something.
            let _ = self.request(Ask::Anew);
            let _ = self.tell_unsaved();
        }
    }

    /// Takes everything off as [`Apart::look_anew`] does and gets ready for what was on the stage, or else for this scene, while nobody waits.
    pub fn prepare(&mut self, instead: Option<&Scene>) {
        let scene = self.open.take().or_else(|| instead.cloned());
        self.look_anew();
        if let Some(scene) = scene
            && let Ok(worker) = self.worker()
            && worker.send(Ask::Prepare(Box::new(scene))).is_err()
        {
            self.worker = None;
        }
    }

    fn worker(&mut self) -> Result<&mut Worker, StageError> {
        if self.worker.is_none() {
            self.worker = Some(match &self.program {
                Some(program) => Worker::Process(Process::start(program, &self.options)?),
                None => on_thread(self.options.clone())?,
            });
            // A new one knows of none.
            self.unsaved = Arc::default();
            self.tell_unsaved()?;
            // One that takes the place of a lost one plays the same files.
            if !self.edits.is_empty() {
                self.request(Ask::Edit(self.edits.clone()))?;
            }
        }
        Ok(self.worker.as_mut().expect("started above"))
    }

    /// Tells the worker which texts stand before files of the disk; on a thread it sees them itself.
    fn tell_unsaved(&mut self) -> Result<(), StageError> {
        let held = unsaved::held();
        if self.program.is_none() || Arc::ptr_eq(&held, &self.unsaved) || held.is_empty() && self.unsaved.is_empty() {
            return Ok(());
        }
        self.unsaved = held;
        let texts = self.unsaved.iter().map(|(path, text)| (path.clone(), text.to_string())).collect();
        self.request(Ask::Unsaved(texts)).map(drop)
    }

    fn request(&mut self, ask: Ask) -> Result<Answer, StageError> {
        let doing = ask.doing();
        let worker = self.worker()?;
        let answer = worker.send(ask).and_then(|()| worker.receive());
        match answer {
            Ok(Answer::Lost(unjudged)) => {
                self.worker = None;
                Err(StageError::Unjudged(unjudged))
            }
            Err(error) => {
                self.worker = None;
                Err(match error {
                    StageError::Unjudged(unjudged) => StageError::Unjudged(unjudged.while_doing(doing)),
                    other => other,
                })
            }
            answer => answer,
        }
    }
}

fn on_thread(options: Options) -> Result<Worker, StageError> {
    let (ask, asked) = channel();
    let (answers, answer) = channel();
    let serve = move || {
        let mut stage = Embedded::new(options);
        while let Ok(ask) = asked.recv() {
            if let Some(answer) = answer_of(&mut stage, ask)
                && answers.send(answer).is_err()
            {
                return;
            }
        }
    };
    std::thread::Builder::new()
        .name("stage".into())
        .stack_size(STACK)
        .spawn(serve)
        .map_err(|e| StageError::lost(format!("no thread could be started: {e}")))?;
    Ok(Worker::Thread { ask, answer })
}

/// What a stage says to what it is asked; nothing where nobody waits.
fn answer_of(stage: &mut Embedded, ask: Ask) -> Option<Answer> {
    Some(match ask {
        Ask::Open(scene) => Answer::Opened(stage.open(&scene)),
        Ask::Play(script) => Answer::Played(stage.play(&script).map(Into::into)),
        Ask::Dependencies => Answer::Dependencies(stage.reached()),
        Ask::Prepare(scene) => {
            stage.prepare(&scene);
            return None;
        }
        Ask::Anew => {
            stage.look_anew();
            Answer::Done
        }
        Ask::Edit(edits) => {
            stage.edit_files(&edits);
            Answer::Done
        }
        Ask::Unsaved(texts) => {
            unsaved::hold(Arc::new(texts.into_iter().map(|(path, text)| (path, text.into())).collect()));
            stage.look_anew();
            Answer::Done
        }
        Ask::Renew => {
            stage.renew();
            Answer::Done
        }
    })
}

impl Stage for Apart {
    fn open(&mut self, scene: &Scene) -> Result<Opened, StageError> {
        self.open = Some(scene.clone());
        match self.request(Ask::Open(Box::new(scene.clone())))? {
            Answer::Opened(result) => result,
            _ => Err(out_of_turn()),
        }
    }

    fn play(&mut self, script: &Script) -> Result<Observation, StageError> {
        // After the loss of a worker the new one has nothing on it.
        if self.worker.is_none()
            && let Some(scene) = self.open.clone()
        {
            self.open(&scene)?;
        }
        match self.request(Ask::Play(Box::new(script.clone())))? {
            Answer::Played(result) => result.map(Into::into),
            _ => Err(out_of_turn()),
        }
    }

    fn reached(&mut self) -> Option<Dependencies> {
        // What a lost worker reached nobody knows.
        self.worker.as_ref()?;
        match self.request(Ask::Dependencies) {
            Ok(Answer::Dependencies(reached)) => reached,
            _ => None,
        }
    }

    fn edit(&mut self, edits: &[Edit]) -> Result<(), StageError> {
        self.open = None;
        if self.edits == edits {
            return Ok(());
        }
        self.edits = edits.to_vec();
        if self.worker.is_some() {
            self.request(Ask::Edit(self.edits.clone()))?;
        }
        Ok(())
    }

    fn renew(&mut self) {
        // A lost worker is replaced by a fresh one anyway.
        if self.worker.is_some() {
            let _ = self.request(Ask::Renew);
        }
    }
}
