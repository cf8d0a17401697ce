//! `cargo run -p xtask -- pack`: packs the framework packages that the demo needs into `demo/packages.tar.zst`, from the
//! kit's lockfile. Needs npm and its registry; nothing else of the project does.

use std::collections::BTreeMap;
use std::path::{Path, PathBuf};
use std::process::Command;

use anyhow::{Context as _, bail};

/// What the demo runs of each package: development builds for browsers, and the licences.
const WANTED: [(&str, &[&str]); 9] = [
    ("vue", &["dist/vue.runtime.esm-bundler.js"]),
    ("@vue/runtime-dom", &["dist/runtime-dom.esm-bundler.js"]),
    ("@vue/runtime-core", &["dist/runtime-core.esm-bundler.js"]),
    ("@vue/reactivity", &["dist/reactivity.esm-bundler.js"]),
    ("@vue/shared", &["dist/shared.esm-bundler.js"]),
    ("@vue/compiler-sfc", &["dist/compiler-sfc.esm-browser.js"]),
    ("react", &["index.js", "jsx-runtime.js", "cjs/react.development.js", "cjs/react-jsx-runtime.development.js"]),
    ("react-dom", &["index.js", "client.js", "cjs/react-dom.development.js", "cjs/react-dom-client.development.js"]),
    ("scheduler", &["index.js", "cjs/scheduler.development.js"]),
];

fn main() -> anyhow::Result<()> {
    match std::env::args().nth(1).as_deref() {
        Some("pack") => pack(),
        _ => bail!("usage: cargo run -p xtask -- pack"),
    }
}

fn pack() -> anyhow::Result<()> {
    let demo = Path::new(env!("CARGO_MANIFEST_DIR")).join("../demo");
    let kit = demo.join("kiln-studio");
    let status = Command::new("npm").args(["ci", "--omit=dev", "--ignore-scripts", "--no-audit", "--no-fund"]).current_dir(&kit).status();
    if !status.context("npm could not be started")?.success() {
        bail!("npm ci failed");
    }
    let modules = kit.join("node_modules");
    let mut files: BTreeMap<String, PathBuf> = BTreeMap::new();
    for (package, wanted) in WANTED {
        let folder = modules.join(package);
        for name in wanted.iter().copied().chain(["package.json"]) {
            files.insert(format!("node_modules/{package}/{name}"), folder.join(name));
        }
        let licence = ["LICENSE", "LICENSE.md", "license"].into_iter().find(|l| folder.join(l).is_file());
        let licence = licence.with_context(|| format!("{package} has no licence file"))?;
        files.insert(format!("node_modules/{package}/{licence}"), folder.join(licence));
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
