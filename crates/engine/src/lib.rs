//! The JavaScript host: a realm with a document, web APIs, a virtual clock and limits.
//!
//! | module | subject |
//! |---|---|
//! | [`realm`] | one runtime with its window: import, call, settle, reset |
//! | [`modules`] | how ES modules and CommonJS files come in |
//! | [`limits`] | work, memory, stack |
//! | [`activity`] | what a thread is at, for whoever watches it |
//! | [`allocation`] | how much memory a thread holds, whoever takes it |
//! | `heap` | how much memory a runtime holds |
//! | [`host`] | what the natives share: document, log, selectors |
//! | [`api`] | the natives, one file per subject; `js/` holds the interfaces built on them |
//! | [`error`] | what goes wrong and where |

pub mod activity;
pub mod allocation;
pub mod api;
pub mod error;
mod heap;
pub mod host;
pub mod limits;
pub mod modules;
pub mod realm;

pub use error::{EngineError, Thrown};
pub use host::{LogEntry, LogLevel};
pub use limits::Limits;
pub use modules::{Code, Format, ImportKind, Modules};
pub use realm::Realm;
