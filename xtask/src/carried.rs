//! What the program is built of, as cargo tells it.

use std::collections::{BTreeMap, BTreeSet};
use std::path::Path;
use std::process::Command;

use anyhow::bail;
use serde_json::Value as Json;

/// The packages that the program carries, those of this workspace among them, in the order of their ids: what `cargo metadata` tells of each.
/// What tests and build scripts need is not in the program.
pub fn carried(root: &Path) -> anyhow::Result<Vec<Json>> {
    let told = Command::new(env!("CARGO")).args(["metadata", "--format-version", "1", "--locked"]).current_dir(root).output()?;
    if !told.status.success() {
        bail!("cargo metadata: {}", String::from_utf8_lossy(&told.stderr));
    }
    let told: Json = serde_json::from_slice(&told.stdout)?;
    let nodes: BTreeMap<String, Json> = list(&told["resolve"]["nodes"]).into_iter().map(|node| (text(&node["id"]), node)).collect();
    let mut packages: BTreeMap<String, Json> = list(&told["packages"]).into_iter().map(|package| (text(&package["id"]), package)).collect();
    let mut open: Vec<String> = packages.values().filter(|p| p["name"] == "fidelon").map(|p| text(&p["id"])).collect();
    let mut seen = BTreeSet::new();
    while let Some(id) = open.pop() {
        if !seen.insert(id.clone()) {
            continue;
        }
        let is_carried = |dep: &&Json| list(&dep["dep_kinds"]).iter().any(|kind| kind["kind"].is_null());
        let deps = nodes.get(&id).map(|node| list(&node["deps"])).unwrap_or_default();
        open.extend(deps.iter().filter(is_carried).map(|dep| text(&dep["pkg"])));
    }
    Ok(seen.iter().filter_map(|id| packages.remove(id)).collect())
}

/// A list of JSON; an empty one for anything else.
fn list(of: &Json) -> Vec<Json> {
    of.as_array().cloned().unwrap_or_default()
}

/// A text of JSON; an empty one for anything else.
pub fn text(of: &Json) -> String {
    of.as_str().unwrap_or_default().to_owned()
}
