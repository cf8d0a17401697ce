//! `cargo run -p xtask -- web-data`: what properties of CSS take, from the data that MDN publishes (CC0), as tables of lines that
//! `crates/css` reads. Needs npm and its registry.

use std::fmt::Write as _;
use std::path::Path;
use std::process::Command;

use anyhow::{Context as _, bail};
use serde_json::Value as Json;

/// The release that the tables are of.
const PACKAGE: &str = "mdn-data@2.37.2";

pub fn web_data() -> anyhow::Result<()> {
    let folder = tempfile::tempdir()?;
    let args = ["install", "--prefix", ".", "--no-save", "--ignore-scripts", "--no-audit", "--no-fund", PACKAGE];
    let status = Command::new("npm").args(args).current_dir(&folder).status();
    if !status.context("npm could not be started")?.success() {
        bail!("{PACKAGE} was not installed");
    }
    let read = |name: &str| -> anyhow::Result<serde_json::Map<String, Json>> {
        let text = std::fs::read_to_string(folder.path().join("node_modules/mdn-data/css").join(name))?;
        Ok(serde_json::from_str(&text)?)
    };
    let data = Path::new(env!("CARGO_MANIFEST_DIR")).join("../crates/css/data");
    let mut properties =
        format!("# name | initial value, or `=` and the longhands of a shorthand | what it takes (CSS Values §2). From {PACKAGE}.\n");
    for (name, entry) in sorted(read("properties.json")?) {
        let of_initial = match &entry["initial"] {
            Json::Array(longhands) => format!("= {}", longhands.iter().filter_map(Json::as_str).collect::<Vec<_>>().join(" ")),
            initial => initial.as_str().unwrap_or_default().to_owned(),
        };
        writeln!(properties, "{name} | {of_initial} | {}", syntax(&entry))?;
    }
    std::fs::write(data.join("properties.txt"), properties)?;
    let mut types = format!("# type or function | what it is made of (CSS Values §2). From {PACKAGE}.\n");
    let mut all = read("functions.json")?;
    // What is said of a function as a type is how other types name it.
    all.extend(read("syntaxes.json")?);
    for (name, entry) in sorted(all) {
        writeln!(types, "{name} | {}", syntax(&entry))?;
    }
    std::fs::write(data.join("types.txt"), types)?;
    Ok(())
}

fn sorted(map: serde_json::Map<String, Json>) -> Vec<(String, Json)> {
    let mut out: Vec<(String, Json)> = map.into_iter().collect();
    out.sort_by(|a, b| a.0.cmp(&b.0));
    out
}

fn syntax(entry: &Json) -> String {
    entry["syntax"].as_str().unwrap_or_default().split_whitespace().collect::<Vec<_>>().join(" ")
}
