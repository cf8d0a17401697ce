//! Files, and places in them.
//!
//! [`Files`] is the one way to the outside for crates that read projects: [`DiskFiles`] in the product, [`MemoryFiles`]
//! in tests; [`ProjectFiles`] are those that belong to a project; [`unsaved`] texts stand before files of the disk, and [`build_modules`] where a build would put them. [`Span`] and [`Place`] name pieces of a text; [`temporary`] is how files are written whole.

mod bounds;
pub mod build_modules;
mod files;
mod place;
pub mod unsaved;
mod whole;

pub use bounds::{Bounds, ProjectFiles, whole_project};
pub use files::{DiskFiles, FileError, Files, MemoryFiles, bytes_of, place_on_disk};
pub use place::{Place, Span, place_of};
pub use whole::temporary;
