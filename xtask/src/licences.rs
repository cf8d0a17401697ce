//! `cargo run -p xtask -- licences`: the notices of all that the program carries of others' work, for `fidelon licences`: crates, fonts, the
//! packages of the demo. With `--check` nothing is written, and it fails where the list is not as the lockfile has it.

use std::collections::{BTreeMap, BTreeSet};
use std::io::Read as _;
use std::path::{Path, PathBuf};

use anyhow::{Context as _, bail};
use serde_json::Value as Json;

use crate::carried::{carried, text};

/// A work of others: its name with its version, and the licences that it is given under.
type Works = BTreeMap<String, String>;

/// The texts of licences, each with the works that it is the licence of.
type Texts = BTreeMap<String, BTreeSet<String>>;

pub fn licences(check: bool) -> anyhow::Result<()> {
    let root = Path::new(env!("CARGO_MANIFEST_DIR")).join("..");
    let (mut works, mut texts) = (Works::new(), Texts::new());
    crates(&root, &mut works, &mut texts)?;
    fonts(&root, &mut works, &mut texts)?;
    packages(&root, &mut works, &mut texts)?;
    let mut out = String::from("What this program carries of others' work, and the licences that it is given under.\n\n");
    let width = works.keys().map(|name| name.len()).max().unwrap_or_default();
    for (name, licence) in &works {
        out.push_str(&format!("{name:width$}  {licence}\n"));
    }
    for (text, of) in &texts {
        let of = of.iter().map(String::as_str).collect::<Vec<_>>().join(", ");
        out.push_str(&format!("\n{}\n{of}\n\n{text}\n", "-".repeat(80)));
    }
    let path = root.join("crates/cli/data/licences.txt.zst");
    if check {
        let kept = std::fs::read(&path).ok().and_then(|packed| zstd::decode_all(packed.as_slice()).ok()).unwrap_or_default();
        if kept != out.as_bytes() {
            bail!("the notices are not those of the lockfile: `cargo run -p xtask -- licences` makes them anew");
        }
        return Ok(());
    }
    std::fs::create_dir_all(path.parent().context("it has a folder")?)?;
    std::fs::write(path, zstd::encode_all(out.as_bytes(), 19)?)?;
    Ok(())
}

/// What the program is built of.
fn crates(root: &Path, works: &mut Works, texts: &mut Texts) -> anyhow::Result<()> {
    for package in carried(root)?.iter().filter(|p| !p["source"].is_null()) {
        let name = format!("{} {}", text(&package["name"]), text(&package["version"]));
        works.insert(name.clone(), package["license"].as_str().unwrap_or("see its text").to_owned());
        let manifest = PathBuf::from(text(&package["manifest_path"]));
        for file in files(manifest.parent().context("it lies in a folder")?)? {
            add(texts, &std::fs::read_to_string(&file).with_context(|| file.display().to_string())?, &name);
        }
    }
    Ok(())
}

/// The files of a folder that hold licences, by name.
fn files(folder: &Path) -> anyhow::Result<Vec<PathBuf>> {
    let is_licence = |path: &PathBuf| {
        let name = path.file_name().map(|n| n.to_string_lossy().to_lowercase()).unwrap_or_default();
        path.is_file() && ["licen", "copying", "notice", "unlicense"].iter().any(|start| name.starts_with(start))
    };
    let mut out: Vec<PathBuf> = folder.read_dir()?.flatten().map(|e| e.path()).filter(is_licence).collect();
    out.sort();
    Ok(out)
}

fn fonts(root: &Path, works: &mut Works, texts: &mut Texts) -> anyhow::Result<()> {
    works.insert("DejaVu fonts".into(), "Bitstream Vera AND public domain".into());
    add(texts, &std::fs::read_to_string(root.join("crates/layout/fonts/LICENSE"))?, "DejaVu fonts");
    Ok(())
}

/// The packages that the demo unpacks.
fn packages(root: &Path, works: &mut Works, texts: &mut Texts) -> anyhow::Result<()> {
    let packed = std::fs::read(root.join("demo/packages.tar.zst"))?;
    let (mut named, mut found) = (BTreeMap::new(), Vec::new());
    for entry in tar::Archive::new(zstd::decode_all(packed.as_slice())?.as_slice()).entries()? {
        let mut entry = entry?;
        let path = entry.path()?.into_owned();
        let name = path.file_name().map(|n| n.to_string_lossy().to_lowercase()).unwrap_or_default();
        let folder = path.parent().map(Path::to_path_buf).unwrap_or_default();
        let mut text = String::new();
        if name == "package.json" {
            entry.read_to_string(&mut text)?;
            let package: Json = serde_json::from_str(&text)?;
            if let (Some(name), Some(version)) = (package["name"].as_str(), package["version"].as_str()) {
                let name = format!("{name} {version} (npm)");
                works.insert(name.clone(), package["license"].as_str().unwrap_or("see its text").to_owned());
                named.insert(folder, name);
            }
        } else if name.starts_with("licen") {
            entry.read_to_string(&mut text)?;
            found.push((folder, text));
        }
    }
    for (folder, text) in found {
        if let Some(name) = folder.ancestors().find_map(|f| named.get(f)) {
            add(texts, &text, name);
        }
    }
    Ok(())
}

/// Licences differ in how their lines end and are filled: one text of each stands for all.
fn add(texts: &mut Texts, text: &str, name: &str) {
    let lines: Vec<&str> = text.lines().map(str::trim_end).collect();
    let text = lines.join("\n").trim().to_owned();
    texts.entry(text).or_default().insert(name.to_owned());
}
