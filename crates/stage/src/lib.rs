//! The embedded stage: components in the engine, in this process, with no browser. What it has in common with the stage in a real
//! browser, the modules of a scene and the frameworks' compilers, is public.
//!
//! | module | subject |
//! |---|---|
//! | [`embedded`] | [`fidelon_core::stage::Stage`] over a realm |
//! | `adapters` | how each framework mounts, updates and removes |
//! | [`entry`] | the module that brings a scene and its adapters together |
//! | [`modules`] | the loader's modules for the engine, and the ones that are ours |
//! | [`compilers`] | the frameworks' own compilers, run in a realm of their own |
//! | [`places`] | from engine stacks to places in the user's source |
//! | [`sandbox`] | the expressions of contracts |
//! | [`apart`] | a stage on a thread or in a process of its own |

mod adapters;
pub mod apart;
pub mod compilers;
pub mod embedded;
pub mod entry;
pub mod modules;
pub mod places;
pub mod sandbox;

pub use apart::Apart;
pub use embedded::{Embedded, Options, Spent};
pub use fidelon_engine::Limits;
pub use sandbox::{Lasting, Sandbox};

/// The stack of a thread that plays components. The engine's own limit stays well below it.
pub const STACK: usize = 64 << 20;
