//! From files to findings.
//!
//! | module | subject |
//! |---|---|
//! | [`pipeline`] | the whole line as one function |
//! | [`survey`] | which components and contracts there are |
//! | `staging` | what a contract names, and what stands on a stage |
//! | `planning` | what a component's props draw from, and its combinations |
//! | `remembering` | a stage that plays each script once |
//! | [`judging`] | one component: plan, run, judge |
//! | [`rendering`] | one component in one combination |
//! | [`events`] | what a run tells while it goes on |

pub mod events;
pub mod judging;
pub mod pipeline;
mod planning;
mod remembering;
pub mod rendering;
mod staging;
pub mod survey;

pub use events::RunEvent;
pub use fidelon_stage::Options as StageOptions;
pub use pipeline::{Request, check};
pub use remembering::Realms;
pub use rendering::{RenderError, Rendered, render};
