//! A stage that remembers what it saw: several clauses and laws look at the same mount.

use std::collections::HashMap;
use std::rc::Rc;

use fidelon_core::Unjudged;
use fidelon_core::judge::laws::Runs;
use fidelon_core::observation::Observation;
use fidelon_core::stage::{Combination, Environment, Script, Stage, StageError};
use indexmap::IndexMap;

/// What playing a case takes beside the component's own work, as so many steps of the engine: asking the stage for it, reading what is to be
/// seen, comparing. Every prop adds to it.
const PLAYING: u64 = 20_000;
const PASSING: u64 = 1_000;

/// What opening a realm takes where one was not asked for and a case has its own all the same, as so many steps of the engine.
const OPENING: u64 = 250_000;

/// What a case costs of which the component's own work is known.
pub(crate) fn cost(combination: &Combination, work: u64) -> u64 {
    PLAYING + PASSING * combination.props.len() as u64 + work
}

/// The most observations that are kept for a component, and as many more as hold so many nodes together: a long run must not fill the memory,
/// and what is small is not to be played again by each law.
const MOST_KEPT: usize = 600;
const MOST_NODES: usize = 250_000;

/// Whether cases share a realm.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub enum Realms {
    /// One for all cases of a component, brought back in between.
    #[default]
    Shared,
    /// One for each case.
    Fresh,
}

/// Plays scripts on a stage, each once, within what may be spent.
pub(crate) struct CachingRunner<'a> {
    stage: &'a mut dyn Stage,
    /// Another kind of stage, to compare with.
    other: Option<&'a mut dyn Stage>,
    realms: Realms,
    /// What they were to be at first.
    asked: Realms,
    /// What is around the component in every script.
    surroundings: Environment,
    known: HashMap<String, Observation>,
    /// The nodes of all that is known.
    nodes: usize,
    /// What could not be played: asking again would take as long again.
    failed: HashMap<String, StageError>,
    /// What all that was played took, in steps of the engine.
    spent: u64,
    /// What may be spent in all before nothing more is played; none where that is not limited.
    most: Option<u64>,
    /// The last of those that the component itself is the cause of.
    lost: Option<(Script, Unjudged)>,
    /// Words of what is around the component: they are not its own.
    around: Vec<String>,
}

impl<'a> CachingRunner<'a> {
    pub(crate) fn new(stage: &'a mut dyn Stage, realms: Realms, surroundings: Environment) -> Self {
        Self {
            stage,
            other: None,
            realms,
            asked: realms,
            surroundings,
            known: HashMap::new(),
            nodes: 0,
            failed: HashMap::new(),
            spent: 0,
            most: None,
            lost: None,
            around: Vec::new(),
        }
    }

    /// From now on these words, logged as warnings, count as said by what is around the component.
    pub(crate) fn leave_out(&mut self, said: Vec<String>) {
        self.around = said;
    }

    /// With another stage to compare with.
    pub(crate) fn beside(self, other: Option<&'a mut dyn Stage>) -> Self {
        Self { other, ..self }
    }

    /// The same stage with realms that nothing was played in before, and no memory.
    pub(crate) fn afresh(&mut self) -> CachingRunner<'_> {
        let other: Option<&mut dyn Stage> = match &mut self.other {
            Some(other) => Some(&mut **other),
            None => None,
        };
        CachingRunner {
            stage: self.stage,
            other,
            realms: Realms::Fresh,
            asked: Realms::Fresh,
            surroundings: self.surroundings.clone(),
            known: HashMap::new(),
            nodes: 0,
            failed: HashMap::new(),
            spent: 0,
            most: self.most.map(|most| most.saturating_sub(self.spent)),
            lost: None,
            around: self.around.clone(),
        }
    }

    /// Does something for which so much may be spent. Asked for more the runner plays nothing ([`StageError::Spent`]); what it has seen it still
    /// tells.
    pub(crate) fn within<T>(&mut self, room: Option<u64>, work: impl FnOnce(&mut Self) -> T) -> T {
        let before = self.most;
        self.most = room.map(|room| self.spent.saturating_add(room));
        let out = work(self);
        self.most = before;
        out
    }

    /// Counts what was played elsewhere for the same component.
    pub(crate) fn spend(&mut self, work: u64) {
        self.spent += work;
    }

    /// What all that was played so far took, in steps of the engine.
    pub(crate) fn spent(&self) -> u64 {
        self.spent
    }

    /// From now on scripts are played in realms of this kind; gives the kind before.
    pub(crate) fn switch(&mut self, realms: Realms) -> Realms {
        std::mem::replace(&mut self.realms, realms)
    }

    /// What each case takes beside its own work because it has a realm of its own; nothing where that was asked for, which is to come to the
    /// same as realms that are shared.
    pub(crate) fn opening(&self) -> u64 {
        if self.realms == Realms::Fresh && self.asked == Realms::Shared { OPENING } else { 0 }
    }

    /// In which kind of realms scripts are played.
    pub(crate) fn realms(&self) -> Realms {
        self.realms
    }

    /// True while a failure may be left over from an earlier case.
    pub(crate) fn are_shared(&self) -> bool {
        self.realms == Realms::Shared
    }

    /// The last script that the component let nobody play to its end, and why.
    pub(crate) fn take_lost(&mut self) -> Option<(Script, Unjudged)> {
        self.lost.take()
    }

    /// Plays at once what will be asked for, where that is quicker. What cannot be played is told when it is asked for.
    pub(crate) fn ahead(&mut self, scripts: &[Script]) {
        if self.realms == Realms::Fresh || !self.stage.is_far() {
            return;
        }
        let mut wanted: IndexMap<String, Script> = scripts.iter().map(|script| self.as_played(script)).collect();
        wanted.retain(|key, _| !self.known.contains_key(key));
        wanted.truncate(MOST_KEPT.saturating_sub(self.known.len()));
        let (keys, scripts): (Vec<String>, Vec<Script>) = wanted.into_iter().unzip();
        let seen = self.stage.play_all(&scripts);
        self.known.extend(keys.into_iter().zip(seen).filter_map(|(key, seen)| Some((key, seen.ok()?))));
    }

    /// All that was seen and is still known, in no order.
    pub(crate) fn seen(&self) -> impl Iterator<Item = &Observation> {
        self.known.values()
    }

    /// What is played for a script, and the name under which it is remembered.
    fn as_played(&self, script: &Script) -> (String, Script) {
        // Without steps every phase sees the mount; one entry serves any number of them.
        let plain = script.phases.iter().all(Vec::is_empty);
        let phases = if plain { vec![Vec::new()] } else { script.phases.clone() };
        // A law may have replies come in an order of its own.
        let network = script.surroundings.network.clone().or_else(|| self.surroundings.network.clone());
        let surroundings = Environment { network, ..self.surroundings.clone() };
        let played = Script { phases, surroundings, ..script.clone() };
        let own = if self.realms == Realms::Fresh { "!" } else { "" };
        (format!("{own}{}", serde_json::to_string(&played).unwrap_or_default()), played)
    }

    fn stage(&mut self, script: &Script) -> Result<Observation, StageError> {
        if self.realms == Realms::Fresh {
            self.stage.renew();
        }
        self.stage.play(script).map_err(|error| match error {
            StageError::Unjudged(unjudged) if unjudged.cause.is_of_component() => {
                StageError::Unjudged(unjudged.with(script.combination.in_words()))
            }
            other => other,
        })
    }
}

impl Runs for CachingRunner<'_> {
    fn elsewhere(&mut self, script: &Script) -> Option<Result<Observation, StageError>> {
        let (_, played) = self.as_played(script);
        let other = self.other.as_mut()?;
        if self.realms == Realms::Fresh {
            other.renew();
        }
        Some(other.play(&played))
    }

    fn play(&mut self, script: &Script) -> Result<Observation, StageError> {
        let (key, played) = self.as_played(script);
        let mut observation = match self.known.get(&key) {
            Some(known) => known.clone(),
            None => {
                if let Some(error) = self.failed.get(&key) {
                    return Err(error.clone());
                }
                if self.most.is_some_and(|most| self.spent >= most) {
                    return Err(StageError::Spent);
                }
                let seen = match self.stage(&played) {
                    Ok(seen) => seen,
                    Err(error) => {
                        if let StageError::Unjudged(unjudged) = &error
                            && unjudged.cause.is_of_component()
                        {
                            self.lost = Some((played, unjudged.clone()));
                            self.failed.insert(key, error.clone());
                        }
                        return Err(error);
                    }
                };
                self.spent += cost(&script.combination, seen.work) + self.opening();
                let size = seen.phases.iter().map(|p| p.tree.len()).sum::<usize>();
                if self.known.len() < MOST_KEPT || self.nodes + size <= MOST_NODES {
                    self.nodes += size;
                    self.known.insert(key, seen.clone());
                }
                seen
            }
        };
        while observation.phases.len() < script.phases.len() + 1 {
            let last = observation.phases.last().cloned();
            observation.phases.extend(last);
        }
        if !self.around.is_empty() {
            for phase in &mut observation.phases {
                if phase.notes.iter().any(|n| self.around.contains(&n.text)) {
                    Rc::make_mut(phase).notes.retain(|n| !self.around.contains(&n.text));
                }
            }
        }
        Ok(observation)
    }
}
