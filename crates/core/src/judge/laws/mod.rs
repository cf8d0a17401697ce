//! The laws: promises that every component keeps unless its contract says why not. Each is a relation between runs, so
//! none needs an expected output.
//!
//! A law is one function over [`Runs`]. It asks for the runs it needs; who plays them is not its business.

mod prop;
mod render;
mod stage;

use crate::contract::Exemption;
use crate::finding::Failure;
use crate::observation::Observation;
use crate::plan::Domain;
use crate::stage::{Combination, Script, StageError};
use crate::surface::Surface;

pub use render::mount;

/// What a law may ask for.
pub trait Runs {
    /// Plays a script, or gives what came of it before.
    ///
    /// # Errors
    /// When the stage could not play it.
    fn play(&mut self, script: &Script) -> Result<Observation, StageError>;
    /// The same on another kind of stage; none where there is no other.
    ///
    /// # Errors
    /// When that stage could not play it.
    fn elsewhere(&mut self, _script: &Script) -> Option<Result<Observation, StageError>> {
        None
    }
}

/// What a law knows of the component at hand.
#[derive(Debug, Clone, Copy)]
pub struct Matter<'a> {
    /// What it declares.
    pub surface: &'a Surface,
    /// What its props and slots draw from.
    pub domains: &'a [Domain],
    /// The combinations of the plan.
    pub combinations: &'a [Combination],
    /// What the contract has played with them.
    pub scripts: &'a [Script],
    /// Names that the contract exempts from this law.
    pub except: &'a [String],
}

/// A case in which a law was checked.
#[derive(Debug, Clone)]
pub struct Checked {
    /// The combination.
    pub combination: Combination,
    /// How it broke, if it did.
    pub failure: Option<Failure>,
    /// The events in that case.
    pub events: Vec<String>,
    /// The prop that it is about, where it is about one.
    pub about: Option<String>,
}

/// What a law says of a component: each case it was checked in, or why it could not be.
pub type Said = Result<Vec<Checked>, StageError>;

/// A law.
#[derive(Debug, Clone, Copy)]
pub struct Law {
    /// Its stable name.
    pub name: &'static str,
    /// What it demands, in one line.
    pub demands: &'static str,
    /// Whether a scene keeps it too.
    pub of_scenes: bool,
    /// Whether frameworks tell of what it demands once and then remember that they did.
    pub told_once: bool,
    /// How it is checked.
    pub check: fn(&Matter<'_>, &mut dyn Runs) -> Said,
}

/// The law that only a run on two stages can check.
pub const AGREES: &str = "stage/agrees";

/// All laws, in the order in which they are told.
pub const LAWS: [Law; 7] = [
    Law { name: "render/succeeds", demands: "mounting raises no error", of_scenes: true, told_once: false, check: render::succeeds },
    Law {
        name: "render/quiet",
        demands: "nothing is logged as a warning or an error",
        of_scenes: true,
        told_once: true,
        check: render::quiet,
    },
    Law {
        name: "render/settles",
        demands: "it comes to rest: no endless update loop",
        of_scenes: true,
        told_once: false,
        check: render::settles,
    },
    Law {
        name: "render/repeatable",
        demands: "two fresh mounts of one combination are the same",
        of_scenes: true,
        told_once: false,
        check: render::repeatable,
    },
    Law {
        name: "prop/live",
        demands: "a changed prop shows as it would in a fresh mount",
        of_scenes: false,
        told_once: false,
        check: prop::live,
    },
    Law {
        name: "prop/steady",
        demands: "passing equal props again changes nothing and emits nothing",
        of_scenes: false,
        told_once: false,
        check: prop::steady,
    },
    Law {
        name: AGREES,
        demands: "a real browser shows the same as the embedded stage",
        of_scenes: true,
        told_once: true,
        check: stage::agrees,
    },
];

/// The names of all laws.
pub fn names() -> impl Iterator<Item = &'static str> {
    LAWS.iter().map(|l| l.name)
}

/// The names that a contract exempts from a law; none when the law is off for the whole component.
pub fn exempted<'a>(law: &Law, exemptions: &'a [Exemption]) -> Option<Vec<&'a Exemption>> {
    let of_law: Vec<&Exemption> = exemptions.iter().filter(|e| e.law == law.name).collect();
    if of_law.iter().any(|e| e.except.is_empty()) { None } else { Some(of_law) }
}
