//! A language server (Language Server Protocol 3.17) for components and their contracts: what `check` finds stands beside the source as it
//! is typed, before anything is saved.
//!
//! | module | subject |
//! |---|---|
//! | `server` | the connection: what is asked, and what is told unasked |
//! | `state` | what is open, and what is known of it |
//! | `looking` | the thread that judges |
//! | `text` | lines, and places as the protocol counts them |
//! | `contract`, `schema` | where somebody is in a contract, and what may stand there |
//! | `diagnostics`, `lenses`, `hovers`, `completions`, `actions`, `links` | one answer each |

mod actions;
mod completions;
mod contract;
mod diagnostics;
mod hovers;
mod lenses;
mod links;
mod looking;
mod schema;
mod server;
mod state;
mod text;

pub use looking::MakeRequest;
pub use server::{EditorError, serve};
