//! What Fidelon knows about components, contracts and verdicts. No file, clock, thread, script or terminal in here.
//!
//! | module | subject |
//! |---|---|
//! | [`baseline`] | rendered output that was accepted |
//! | [`unjudged`] | why there is no verdict |
//! | [`value`] | values of props and payloads |
//! | [`framework`] | what each framework does in its own way |
//! | [`surface`] | what a component declares |
//! | [`naming`] | names as scripts and as markup write them |
//! | [`contract`] | the contract file: reading it, and what it says |
//! | [`locator`] | finding nodes by selector, role, name, text |
//! | [`plan`] | combinations of prop values |
//! | [`scene`] | what stands on a stage together |
//! | [`stage`] | where components run: the trait, and what is asked of it |
//! | [`observation`] | what was seen there |
//! | [`judge`] | one function per check and per law |
//! | [`cause`] | the condition that makes a promise break |
//! | [`draft`] | a first contract from what was observed |
//! | [`fits`] | whether a value is one of a declared type |
//! | [`challenge`] | what promises noticed of faults that were made on purpose |
//! | [`compare`] | whether one component can take another's place |
//! | [`finding`] | a promise that broke |
//! | [`gallery`] | what a component looked like |
//! | [`results`] | the results file |

pub mod baseline;
pub mod cause;
pub mod challenge;
pub mod compare;
pub mod contract;
pub mod draft;
pub mod finding;
pub mod fits;
pub mod framework;
pub mod gallery;
pub mod judge;
pub mod locator;
pub mod naming;
pub mod observation;
pub mod plan;
pub mod results;
pub mod scene;
pub mod stage;
pub mod surface;
pub mod trace;
pub mod unjudged;
pub mod value;

pub use finding::{Finding, Verdict};
pub use surface::Surface;
pub use unjudged::{Unjudged, UnjudgedCause};
pub use value::Value;
