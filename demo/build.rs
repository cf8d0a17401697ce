//! Lists the files of `kiln-studio` so that they are part of the program.

#![allow(clippy::print_stdout, reason = "cargo reads a build script's instructions there")]

use std::fmt::Write as _;
use std::path::{Path, PathBuf};

fn main() {
    // Asked when it runs: one that was built for another copy of the project may be taken for this one.
    let kit = PathBuf::from(std::env::var_os("CARGO_MANIFEST_DIR").expect("cargo sets it")).join("kiln-studio");
    println!("cargo::rerun-if-changed={}", kit.display());
    let mut files = Vec::new();
    collect(&kit, &mut files);
    files.sort();
    assert!(!files.is_empty(), "the demo's files are not there: {}", kit.display());
    let mut out = String::from("&[\n");
    for file in files {
        println!("cargo::rerun-if-changed={}", file.display());
        let name = file.strip_prefix(&kit).expect("collected below it").to_string_lossy().replace('\\', "/");
        let path = file.canonicalize().expect("it was listed");
        writeln!(out, "({name:?}, include_str!({:?})),", path.to_string_lossy()).expect("a string takes all");
    }
    out.push(']');
    let target = PathBuf::from(std::env::var_os("OUT_DIR").expect("cargo sets it")).join("kit.rs");
    std::fs::write(target, out).expect("the build folder can be written");
}

fn collect(folder: &Path, out: &mut Vec<PathBuf>) {
    let Ok(entries) = folder.read_dir() else { return };
    for entry in entries.flatten() {
        let path = entry.path();
        if path.file_name().is_some_and(|n| n == "node_modules") {
            continue;
        }
        if path.is_dir() { collect(&path, out) } else { out.push(path) }
    }
}
