//! What was seen of each script of a component as it is, and where it is seen otherwise with a fault in it.

use std::collections::HashMap;
use std::collections::hash_map::DefaultHasher;
use std::hash::{Hash as _, Hasher as _};

use fidelon_core::judge::agreement::digest;
use fidelon_core::observation::Observation;
use fidelon_core::scene::Scene;
use fidelon_core::stage::{Dependencies, Edit, Opened, Script, Stage, StageError};

use crate::learning;

/// So many scripts that are seen otherwise are enough to tell: from then on nothing is compared.
const MOST: usize = 4;

/// A digest for each script that was played.
#[derive(Debug, Default)]
pub(super) struct Journal {
    seen: HashMap<u64, u64>,
}

/// The name of a script in the journal: where nothing was played before is another place.
fn key(script: &Script, fresh: bool) -> u64 {
    let mut hasher = DefaultHasher::new();
    fresh.hash(&mut hasher);
    serde_json::to_string(script).unwrap_or_default().hash(&mut hasher);
    hasher.finish()
}

/// A stage whose plays are put down in a journal, or compared with it.
pub(super) struct Watched<'a> {
    stage: &'a mut dyn Stage,
    journal: &'a mut Journal,
    differing: Option<&'a mut Vec<Script>>,
    fresh: bool,
}

impl<'a> Watched<'a> {
    pub(super) fn recording(stage: &'a mut dyn Stage, journal: &'a mut Journal) -> Self {
        Self { stage, journal, differing: None, fresh: false }
    }

    /// What is seen otherwise than before is added to `differing`.
    pub(super) fn comparing(stage: &'a mut dyn Stage, journal: &'a mut Journal, differing: &'a mut Vec<Script>) -> Self {
        Self { stage, journal, differing: Some(differing), fresh: false }
    }

    fn put_down(&mut self, script: &Script, seen: &Result<Observation, StageError>) {
        let fresh = std::mem::take(&mut self.fresh);
        // What is played to learn is another thing once something else is read.
        if learning::is_probe(script) || self.differing.as_ref().is_some_and(|differing| differing.len() >= MOST) {
            return;
        }
        let key = key(script, fresh);
        let digest = seen.as_ref().map_or(0, digest);
        match &mut self.differing {
            None => {
                self.journal.seen.entry(key).or_insert(digest);
            }
            Some(differing) => {
                if self.journal.seen.get(&key).is_some_and(|known| *known != digest) {
                    differing.push(script.clone());
                }
            }
        }
    }
}

impl Stage for Watched<'_> {
    fn open(&mut self, scene: &Scene) -> Result<Opened, StageError> {
        self.stage.open(scene)
    }

    fn play(&mut self, script: &Script) -> Result<Observation, StageError> {
        let seen = self.stage.play(script);
        self.put_down(script, &seen);
        seen
    }

    fn play_all(&mut self, scripts: &[Script]) -> Vec<Result<Observation, StageError>> {
        let all = self.stage.play_all(scripts);
        for (script, seen) in scripts.iter().zip(&all) {
            self.put_down(script, seen);
        }
        all
    }

    fn is_far(&self) -> bool {
        self.stage.is_far()
    }

    fn reached(&mut self) -> Option<Dependencies> {
        self.stage.reached()
    }

    fn edit(&mut self, edits: &[Edit]) -> Result<(), StageError> {
        self.stage.edit(edits)
    }

    fn renew(&mut self) {
        self.fresh = true;
        self.stage.renew();
    }
}
