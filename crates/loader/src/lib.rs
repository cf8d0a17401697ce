//! Turns the files of a project into ES modules that an engine or a browser can load.
//!
//! | module | subject |
//! |---|---|
//! | [`loader`] | the front: resolve a specifier, load a module, look up a place |
//! | `transform` | from a source to a module that can run |
//! | [`resolve`] | specifier → file (package exports, tsconfig paths) |
//! | [`script`] | JavaScript and TypeScript, with or without JSX, ES or CommonJS |
//! | [`compile`] | what frameworks compile, through the project's own compiler |
//! | [`start`] | what an application puts around its components, read from its main script |
//! | [`angular`] | classes of Angular, prepared for its compiler |
//! | [`html`] | plain pages with their scripts |
//! | [`served`] | what a server on this machine renders |
//! | [`jsx`] | whose JSX a file holds |
//! | [`link`] | modules as a real browser loads them |
//! | [`asset`] | JSON, CSS, pictures |
//! | [`styles`] | Sass and CSS modules |
//! | [`cache`] | transforms and bytecode on disk |
//! | [`maps`] | from a place in what runs to the place a person wrote |
//! | `edited` | files that are tried with other texts than on the disk |
//! | [`error`] | what is wrong with a file, and where |

pub mod angular;
pub mod asset;
mod auto_imports;
pub mod cache;
pub mod compile;
mod edited;
pub mod error;
pub mod html;
pub mod jsx;
pub mod link;
pub mod loader;
pub mod maps;
pub mod resolve;
pub mod script;
pub mod served;
pub mod start;
pub mod styles;
mod transform;

pub use cache::Cache;
pub use error::LoadError;
pub use link::{Address, Form, specifiers_of};
pub use loader::{Compilers, Kind, LoadedFiles, Loader, Module, NoCompilers};
pub use resolve::{Aliases, Importing, PACKAGE_TABLE, Resolvers, Sass};
