//! The demo's project, as data: what `fidelon demo` unpacks.

/// The files of the project, by their path in it, in the order of their names.
pub static KIT: &[(&str, &str)] = include!(concat!(env!("OUT_DIR"), "/kit.rs"));

/// The framework packages that the project needs, a `node_modules` folder as `.tar.zst`. `cargo run -p xtask -- pack` makes it from the
/// project's lockfile.
pub static PACKAGES: &[u8] = include_bytes!("../packages.tar.zst");
