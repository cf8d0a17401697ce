//! `cargo run -p xtask -- sbom`: what the program is built of, as a bill of materials in CycloneDX 1.6 (ECMA-424), on standard output.

use std::path::Path;

use anyhow::Context as _;
use serde_json::{Value as Json, json};

use crate::carried::{carried, text};

pub fn sbom() -> anyhow::Result<String> {
    let packages = carried(&Path::new(env!("CARGO_MANIFEST_DIR")).join(".."))?;
    let program = packages.iter().find(|p| p["name"] == "fidelon").context("the program is in the workspace")?;
    let others = packages.iter().filter(|p| p["name"] != "fidelon").map(|package| component(package, "library"));
    let mut components: Vec<Json> = others.collect();
    components.sort_by_key(|component| text(&component["bom-ref"]));
    let bill = json!({
        "bomFormat": "CycloneDX",
        "specVersion": "1.6",
        "version": 1,
        "metadata": { "component": component(program, "application") },
        "components": components,
    });
    Ok(serde_json::to_string_pretty(&bill)? + "\n")
}

/// A package as a component; what was fetched has its address as a package URL.
fn component(package: &Json, kind: &str) -> Json {
    let (name, version) = (text(&package["name"]), text(&package["version"]));
    let purl = format!("pkg:cargo/{name}@{version}");
    let mut out = json!({ "type": kind, "bom-ref": purl, "name": name, "version": version });
    if let Some(licence) = package["license"].as_str() {
        // Cargo's older way of writing a choice is none of SPDX's.
        out["licenses"] = json!([{ "expression": licence.replace('/', " OR ") }]);
    }
    if !package["source"].is_null() {
        out["purl"] = json!(purl);
    }
    out
}
