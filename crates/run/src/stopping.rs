//! Ending a run of which nobody wants the results any more: somebody types on.

use std::sync::Arc;
use std::sync::atomic::{AtomicBool, Ordering};

use fidelon_core::observation::Observation;
use fidelon_core::scene::Scene;
use fidelon_core::stage::{Dependencies, Edit, Opened, Script, Stage, StageError};

/// Ends a run, from any thread.
#[derive(Debug, Clone, Default)]
pub struct Stop(Arc<AtomicBool>);

impl Stop {
    /// From now on the run plays nothing more. What it is playing comes to its end.
    pub fn now(&self) {
        self.0.store(true, Ordering::Relaxed);
    }

    /// Whether the run was told to end.
    pub fn is_set(&self) -> bool {
        self.0.load(Ordering::Relaxed)
    }
}

/// A stage that plays nothing any more once its run was told to end.
pub(crate) struct Stoppable<'a> {
    pub(crate) stage: &'a mut dyn Stage,
    pub(crate) stop: &'a Stop,
}

impl Stoppable<'_> {
    fn ask<T>(&mut self, ask: impl FnOnce(&mut dyn Stage) -> Result<T, StageError>) -> Result<T, StageError> {
        if self.stop.is_set() { Err(StageError::lost("the run was stopped")) } else { ask(self.stage) }
    }
}

impl Stage for Stoppable<'_> {
    fn open(&mut self, scene: &Scene) -> Result<Opened, StageError> {
        self.ask(|stage| stage.open(scene))
    }

    fn play(&mut self, script: &Script) -> Result<Observation, StageError> {
        self.ask(|stage| stage.play(script))
    }

    fn play_all(&mut self, scripts: &[Script]) -> Vec<Result<Observation, StageError>> {
        if self.stop.is_set() { scripts.iter().map(|script| self.play(script)).collect() } else { self.stage.play_all(scripts) }
    }

    fn is_far(&self) -> bool {
        self.stage.is_far()
    }

    fn reached(&mut self) -> Option<Dependencies> {
        self.stage.reached()
    }

    fn edit(&mut self, edits: &[Edit]) -> Result<(), StageError> {
        self.ask(|stage| stage.edit(edits))
    }

    fn renew(&mut self) {
        self.stage.renew();
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use fidelon_core::surface::{Framework, Surface};

    /// Counts what it is asked for.
    struct Counting(usize);

    impl Stage for Counting {
        fn open(&mut self, _scene: &Scene) -> Result<Opened, StageError> {
            self.0 += 1;
            Err(StageError::lost("it has nothing to open"))
        }

        fn play(&mut self, _script: &Script) -> Result<Observation, StageError> {
            self.0 += 1;
            Ok(Observation::new(Vec::new()))
        }

        fn renew(&mut self) {}
    }

    #[test]
    fn nothing_is_played_once_the_run_was_stopped() {
        let (mut stage, stop) = (Counting(0), Stop::default());
        let scene = Scene::alone(Surface::new("KilnDial", "KilnDial.vue", "default", Framework::Vue));
        let mut stoppable = Stoppable { stage: &mut stage, stop: &stop };
        assert!(stoppable.open(&scene).is_err());
        stop.clone().now();
        assert!(stoppable.open(&scene).is_err());
        assert_eq!(stage.0, 1, "the second was not asked of the stage");
    }
}
