//! `cargo run -p xtask -- pack`: packs the framework packages that the demo needs into `demo/packages.tar.zst`, from the
//! kit's lockfile. `cargo run -p xtask -- web-data`: see [`web_data`]. Both need npm and its
//! registry; nothing else of the project does. `cargo run -p xtask -- values`: see [`values`]; needs Chromium.
//! `cargo run -p xtask -- licences`: see [`licences`]. `cargo run -p xtask -- sbom`: see [`sbom`].

mod carried;
mod licences;
mod sbom;
mod values;
mod web_data;

use std::collections::{BTreeMap, BTreeSet};
use std::path::{Path, PathBuf};
use std::process::Command;

use anyhow::{Context as _, bail};
use fidelon_loader::{Cache, Importing, Loader, NoCompilers};

/// What a project of each framework imports, and what its compiler is. All that these lead to is packed, and no more.
const IMPORTED: [&str; 31] = [
    "vue",
    "vue/jsx-runtime",
    "@vue/compiler-sfc/dist/compiler-sfc.esm-browser.js",
    "react",
    "react/jsx-runtime",
    "react-dom",
    "react-dom/client",
    "preact",
    "preact/hooks",
    "preact/jsx-runtime",
    "svelte",
    "svelte/legacy",
    "svelte/store",
    "svelte/reactivity",
    "svelte/internal/client",
    "svelte/internal/disclose-version",
    "svelte/internal/flags/legacy",
    "svelte/internal/flags/async",
    "solid-js",
    "solid-js/store",
    "solid-js/web",
    "@angular/core",
    "@angular/core/rxjs-interop",
    "@angular/common",
    "@angular/common/http",
    "@angular/forms",
    "@angular/compiler",
    "@angular/platform-browser",
    "rxjs",
    "tslib",
    "esm-env",
];
/// The same for what is required.
const REQUIRED: [&str; 3] = ["svelte/compiler", "@babel/core", "babel-preset-solid"];

fn main() -> anyhow::Result<()> {
    match std::env::args().nth(1).as_deref() {
        Some("pack") => pack(),
        Some("web-data") => web_data::web_data(),
        Some("values") => values::values(),
        Some("licences") => licences::licences(std::env::args().nth(2).as_deref() == Some("--check")),
        Some("sbom") => std::io::Write::write_all(&mut std::io::stdout(), sbom::sbom()?.as_bytes()).map_err(Into::into),
        _ => bail!("usage: cargo run -p xtask -- pack | web-data | values | licences [--check] | sbom"),
    }
}

fn pack() -> anyhow::Result<()> {
    let demo = Path::new(env!("CARGO_MANIFEST_DIR")).join("../demo");
    let kit = demo.join("kiln-studio");
    let status = Command::new("npm").args(["ci", "--omit=dev", "--ignore-scripts", "--no-audit", "--no-fund"]).current_dir(&kit).status();
    if !status.context("npm could not be started")?.success() {
        bail!("npm ci failed");
    }
    let kit = kit.canonicalize()?;
    let mut files: BTreeMap<String, PathBuf> = BTreeMap::new();
    for path in reached(&kit)? {
        let package = path.ancestors().skip(1).find(|folder| is_package(folder)).with_context(|| path.display().to_string())?.to_path_buf();
        let named = |file: &PathBuf| file.file_name().is_some_and(|n| n.to_string_lossy().to_lowercase().starts_with("licen"));
        let mut licences: Vec<PathBuf> = package.read_dir()?.flatten().map(|e| e.path()).filter(named).collect();
        licences.sort();
        if licences.is_empty() {
            bail!("{} has no licence file", package.display());
        }
        // A folder within a package may have a package.json that says what its files are.
        let manifests =
            path.ancestors().skip(1).take_while(|a| a.starts_with(&package)).map(|a| a.join("package.json")).filter(|m| m.is_file());
        for file in manifests.collect::<Vec<_>>().into_iter().chain(licences).chain([path]) {
            files.insert(file.strip_prefix(&kit)?.to_string_lossy().into_owned(), file);
        }
    }
    let mut tar = tar::Builder::new(Vec::new());
    for (name, path) in &files {
        let content = std::fs::read(path).with_context(|| path.display().to_string())?;
        // Nothing of this machine goes in: no owner, no time.
        let mut header = tar::Header::new_gnu();
        header.set_size(content.len() as u64);
        header.set_mode(0o644);
        header.set_mtime(0);
        header.set_cksum();
        tar.append_data(&mut header, name, content.as_slice())?;
    }
    let packed = zstd::encode_all(tar.into_inner()?.as_slice(), 19)?;
    std::fs::write(demo.join("packages.tar.zst"), &packed)?;
    Ok(())
}

/// A folder that was installed as a package: named in a `node_modules`.
fn is_package(folder: &Path) -> bool {
    let above = |folder: &Path| folder.parent().and_then(Path::file_name).map(|n| n.to_string_lossy().into_owned()).unwrap_or_default();
    above(folder) == "node_modules" || above(folder).starts_with('@')
}

/// The files that the kit's components and their compilers may run.
fn reached(kit: &Path) -> anyhow::Result<Vec<PathBuf>> {
    let mut loader = Loader::new(Cache::none(), Box::new(NoCompilers));
    let from = kit.join("any.js").to_string_lossy().into_owned();
    let mut open = Vec::new();
    for (specifiers, importing) in [(IMPORTED.as_slice(), Importing::Module), (REQUIRED.as_slice(), Importing::CommonJs)] {
        for specifier in specifiers {
            open.push(loader.resolve(&from, specifier, importing).map_err(|e| anyhow::anyhow!("{e}"))?);
        }
    }
    let mut seen = BTreeSet::new();
    while let Some(name) = open.pop() {
        // Stages run development builds.
        let skipped = name == "empty:" || name.contains(".production.") || !Path::new(&name).is_file();
        if !skipped && seen.insert(PathBuf::from(&name)) {
            open.extend(loader.leads_to(&name).map_err(|e| anyhow::anyhow!("{e}"))?);
        }
    }
    Ok(seen.into_iter().collect())
}
