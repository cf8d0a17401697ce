//! What is known of published components, by source and by their framework, against what their libraries publish about them: the
//! documents that editors complete by, and type declarations.

use std::collections::{BTreeMap, BTreeSet};
use std::path::Path;
use std::time::Duration;

use anyhow::{Context, Result};
use fidelon_core::stage::Stage;
use fidelon_core::surface::Framework;
use fidelon_run::{StageKind, StageOptions};
use serde_json::Value as Json;

use crate::corpus::{Component, Corpus};
use crate::over;

const DEADLINE: Duration = Duration::from_secs(20);

/// Prints recall and precision of declared props, by library.
pub fn run(corpora: &[Corpus], only: Option<&str>, jobs: usize) -> Result<()> {
    let (mut known, mut ours, mut both, mut components) = (0, 0, 0, 0);
    for corpus in corpora {
        let truth = truth(&corpus.root)?;
        let chosen = corpus.chosen(only);
        let options = StageOptions::new(corpus.root.clone(), None, DEADLINE, 512, StageKind::Embedded);
        let read = over(&chosen, jobs, &|| options.stage(), &|stage, component| props(corpus, component, stage.as_mut()));
        let (mut k, mut o, mut b, mut c) = (0, 0, 0, 0);
        for (component, props) in chosen.iter().zip(read) {
            let names = [component.export.as_str(), component.name.as_str()];
            // A tag has the mark of its library before the name.
            let tagged =
                || truth.iter().find(|(tag, _)| tag.split_once('-').is_some_and(|(_, rest)| rest == component.name)).map(|(_, t)| t);
            let (Some(published), Some(props)) = (names.iter().find_map(|n| truth.get(*n)).or_else(tagged), props) else { continue };
            let same = published.intersection(&props).count();
            if same < published.len() || same < props.len() {
                let told = |a: &BTreeSet<String>, b: &BTreeSet<String>| a.difference(b).cloned().collect::<Vec<_>>().join(" ");
                println!("  {}: missing [{}] besides [{}]", component.name, told(published, &props), told(&props, published));
            }
            (k, o, b, c) = (k + published.len(), o + props.len(), b + same, c + 1);
        }
        if c > 0 {
            println!(
                "{}: {c} components, recall {:.1} %, precision {:.1} % of {k} published props",
                corpus.name,
                percent(b, k),
                percent(b, o)
            );
        }
        (known, ours, both, components) = (known + k, ours + o, both + b, components + c);
    }
    println!(
        "all: {components} components, recall {:.1} %, precision {:.1} % of {known} published props",
        percent(both, known),
        percent(both, ours)
    );
    Ok(())
}

fn percent(part: usize, of: usize) -> f64 {
    if of == 0 { 100.0 } else { part as f64 * 100.0 / of as f64 }
}

/// The names of the props that are known of a component, as templates write them.
fn props(corpus: &Corpus, component: &Component, stage: &mut dyn Stage) -> Option<BTreeSet<String>> {
    let scene = component.scene(&corpus.root).ok()?;
    let declared = stage.open(&scene).ok()?.declared.into_iter().next().flatten()?;
    let surface = scene.parts[0].surface.completed(&declared);
    let own = |name: &String| surface.framework != Framework::Element || !["children", "localize"].contains(&name.as_str());
    Some(surface.props.into_iter().map(|p| kebab(&p.name)).filter(own).collect())
}

fn kebab(name: &str) -> String {
    name.chars().flat_map(|c| if c.is_uppercase() { vec!['-', c.to_ascii_lowercase()] } else { vec![c] }).collect()
}

type Truth = BTreeMap<String, BTreeSet<String>>;

/// What a library publishes of its components, by the name of each.
fn truth(root: &Path) -> Result<Truth> {
    let modules = root.join("node_modules");
    let json = |file: &str| -> Result<Option<Json>> {
        let path = modules.join(file);
        if !path.is_file() {
            return Ok(None);
        }
        let text = std::fs::read_to_string(&path).with_context(|| path.display().to_string())?;
        Ok(Some(serde_json::from_str(&text)?))
    };
    let mut out = Truth::new();
    if let Some(types) = json("element-plus/web-types.json")? {
        for component in list(&types["contributions"]["html"]["vue-components"]).iter().chain(list(&types["contributions"]["html"]["tags"]))
        {
            let attributes = list(&component["props"]).iter().chain(list(&component["attributes"]));
            let names = attributes.filter_map(|a| a["name"].as_str()).map(|n| kebab(n.trim_start_matches("v-model:")));
            // `v-model` is how a template writes `modelValue`.
            let names = names.map(|n| if n == "v-model" { "model-value".to_owned() } else { n });
            if let Some(name) = component["name"].as_str() {
                out.insert(pascal(name), names.filter(|n| !n.contains([' ', '/', '.', '['])).collect());
            }
        }
    }
    if let Some(manifest) = json("@shoelace-style/shoelace/dist/custom-elements.json")? {
        for declaration in list(&manifest["modules"]).iter().flat_map(|m| list(&m["declarations"])) {
            let Some(tag) = declaration["tagName"].as_str() else { continue };
            let public =
                |m: &&Json| m["kind"] == "field" && m["privacy"] != "private" && m["privacy"] != "protected" && m["static"] != true;
            // Those with an attribute or a description are what a page may set.
            let fields = list(&declaration["members"]).iter().filter(public).filter(|m| m["attribute"].is_string());
            out.insert(tag.to_owned(), fields.filter_map(|m| m["name"].as_str()).map(kebab).collect());
        }
    }
    let types = modules.join("@angular/material/types");
    if types.is_dir() {
        for file in types.read_dir()?.flatten().map(|e| e.path()) {
            declarations(&std::fs::read_to_string(&file).unwrap_or_default(), &mut out);
        }
    }
    Ok(out)
}

fn list(json: &Json) -> &[Json] {
    json.as_array().map_or(&[], Vec::as_slice)
}

fn pascal(name: &str) -> String {
    let part = |p: &str| p[..1].to_uppercase() + &p[1..];
    name.split('-').filter(|p| !p.is_empty()).map(part).collect()
}

/// `ɵɵComponentDeclaration<MatButton, "selector", never, { "color": { "alias": "color"; }; }, …>`: the fourth argument names the inputs.
fn declarations(text: &str, out: &mut Truth) {
    for (at, _) in text.match_indices("ComponentDeclaration<") {
        let rest = &text[at + "ComponentDeclaration<".len()..];
        let name = rest.split(',').next().unwrap_or_default().split('<').next().unwrap_or_default().trim().to_owned();
        let (mut depth, mut argument, mut start) = (0_i32, 0, 0);
        let mut quoted = false;
        for (i, c) in rest.char_indices() {
            match c {
                '"' => quoted = !quoted,
                _ if quoted => {}
                '{' | '[' | '<' => depth += 1,
                '}' | ']' => depth -= 1,
                '>' if depth > 0 => depth -= 1,
                ',' | '>' if depth == 0 => {
                    if argument == 3 {
                        let aliases = rest[start..i].split("\"alias\": \"").skip(1).filter_map(|a| a.split('"').next());
                        out.insert(name.clone(), aliases.map(kebab).collect());
                    }
                    argument += 1;
                    start = i + 1;
                    if c == '>' {
                        break;
                    }
                }
                _ => {}
            }
        }
    }
}
