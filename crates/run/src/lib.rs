//! From files to findings.
//!
//! | module | subject |
//! |---|---|
//! | [`pipeline`] | the whole line as one function |
//! | [`stages`] | on which stage components are played |
//! | [`settings`] | `fidelon.toml` |
//! | [`surfaces`] | what components declare, many at once |
//! | `selection` | what the paths of a request name: folders, files, `file#export` |
//! | [`survey`] | which components and contracts there are |
//! | `scene_builder` | what a contract names, and what stands on a stage |
//! | `planning` | what a component's props draw from, and its combinations |
//! | `merging` | parts of a run, joined |
//! | `gallery` | what a component looked like |
//! | `affected` | which components a change touches |
//! | `caching_runner` | a stage that plays each script once |
//! | `told` | what the framework knows besides the source |
//! | `results_cache` | what was judged before and still counts |
//! | [`judging`] | one component: plan, run, judge |
//! | [`challenging`] | components broken on purpose, and what notices it |
//! | [`comparing`] | two components, or two states of one, side by side |
//! | [`accepting`] | rendered output, to be kept as accepted |
//! | [`rendering`] | one component in one combination |
//! | [`drafting`] | a first contract, observed |
//! | [`replaying`] | one case again, step by step |
//! | [`playground`] | a component tried by hand |
//! | [`watching`] | which files change |
//! | [`events`] | what a run tells while it goes on |

pub mod accepting;
mod affected;
mod caching_runner;
pub mod challenging;
pub mod comparing;
pub mod drafting;
pub mod events;
mod gallery;
pub mod judging;
mod learning;
mod merging;
mod origins;
pub mod pipeline;
mod planning;
pub mod playground;
pub mod rendering;
pub mod replaying;
mod results_cache;
mod scene_builder;
mod selection;
pub mod settings;
pub mod stages;
pub mod stopping;
pub mod surfaces;
pub mod survey;
mod told;
mod uses;
pub mod watching;

pub use accepting::{Record, accept};
pub use caching_runner::Realms;
pub use events::RunEvent;
pub use fidelon_browser::{DriverChoice as Driver, end_all, picture};
pub use fidelon_core::judge::laws::Effort;
pub use fidelon_engine::allocation::Metered;
pub use fidelon_loader::{Cache, Form};
pub use fidelon_stage::apart::worker::serve_if_asked;
pub use fidelon_stage::embedded::SURROUNDINGS;
pub use fidelon_stage::entry::modules as scene_modules;
pub use judging::JudgeOptions;
pub use merging::merge;
pub use pipeline::{Outcome, Portion, Request, check, warm};
pub use rendering::{RenderError, RenderRequest, Rendered, render};
pub use replaying::{Moment, Replay, ReplayError, ReplayTarget, replay};
pub use stages::{StageKind, StageOptions};
pub use stopping::Stop;
