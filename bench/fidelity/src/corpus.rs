//! A corpus: a folder with `package.json`, `components.json` and the packages that are installed there.

use std::path::{Path, PathBuf};

use anyhow::{Context, Result, anyhow};
use fidelon_core::Value;
use fidelon_core::locator::Locator;
use fidelon_core::scene::Scene;
use fidelon_core::stage::{Combination, Environment, Parent, Script, Step};
use fidelon_core::surface::{Event, Framework, Prop, Slot, Surface, Type};
use fidelon_loader::{Cache, Importing, Loader, NoCompilers};
use indexmap::IndexMap;
use serde::Deserialize;
use serde_json::Value as Json;

/// A component of a library.
#[derive(Debug, Clone, Deserialize)]
pub struct Component {
    /// What it is called in the figures.
    pub name: String,
    framework: String,
    from: String,
    #[serde(default = "default_export")]
    pub export: String,
    #[serde(default)]
    props: Vec<IndexMap<String, Json>>,
    #[serde(default)]
    slots: IndexMap<String, String>,
    #[serde(default)]
    styles: Vec<String>,
    press: Option<String>,
}

fn default_export() -> String {
    "default".into()
}

/// A corpus.
#[derive(Debug)]
pub struct Corpus {
    /// The folder's name.
    pub name: String,
    /// The folder.
    pub root: PathBuf,
    /// Its components.
    pub components: Vec<Component>,
}

impl Corpus {
    /// Reads a corpus.
    pub fn read(folder: &Path) -> Result<Self> {
        let root = folder.canonicalize().with_context(|| folder.display().to_string())?;
        let file = root.join("components.json");
        let text = std::fs::read_to_string(&file).with_context(|| file.display().to_string())?;
        let components = serde_json::from_str(&text).with_context(|| file.display().to_string())?;
        let name = root.file_name().map(|n| n.to_string_lossy().into_owned()).unwrap_or_default();
        Ok(Self { name, root, components })
    }

    /// Its components whose name contains a text; all without one.
    pub fn chosen(&self, only: Option<&str>) -> Vec<&Component> {
        self.components.iter().filter(|c| only.is_none_or(|o| c.name.contains(o))).collect()
    }
}

impl Component {
    /// The component alone, as a scene.
    pub fn scene(&self, root: &Path) -> Result<Scene> {
        let framework = match self.framework.as_str() {
            "vue" => Framework::Vue,
            "react" => Framework::React,
            "preact" => Framework::Preact,
            "svelte" => Framework::Svelte,
            "angular" => Framework::Angular,
            "solid" => Framework::Solid,
            "element" | "elements" | "custom-element" | "custom-elements" | "web-component" | "web-components" | "lit" => {
                Framework::Element
            }
            other => return Err(anyhow!("there is no adapter for {other} yet")),
        };
        let loader = Loader::new(Cache::none(), Box::new(NoCompilers));
        let from = root.join("components.json").to_string_lossy().into_owned();
        let resolve = |specifier: &str| loader.resolve(&from, specifier, Importing::Module).map_err(|e| anyhow!("{e}"));
        // What the corpus gives to a component is what a page gives to it.
        let slots = self.slots.keys().map(|name| Slot { required: true, ..Slot::new(name) }).collect();
        let surface = Surface { slots, open: true, ..Surface::new(&self.name, &resolve(&self.from)?, &self.export, framework) };
        let styles = self.styles.iter().map(|s| resolve(s)).collect::<Result<_>>()?;
        Ok(Scene { styles, ..Scene::alone(surface) })
    }

    /// What the corpus gives to the component, as a contract without clauses.
    pub fn given(&self) -> String {
        let mut props: IndexMap<&str, Vec<Json>> = IndexMap::new();
        for set in &self.props {
            for name in self.props.iter().flat_map(IndexMap::keys) {
                let value = set.get(name).cloned().unwrap_or_else(|| "absent".into());
                let values = props.entry(name).or_default();
                if !values.contains(&value) {
                    values.push(value);
                }
            }
        }
        let slots: IndexMap<&str, Json> = self.slots.iter().map(|(name, html)| (name.as_str(), serde_json::json!([html]))).collect();
        let contract = serde_json::json!({ "component": self.from, "props": props, "slots": slots, "clauses": [] });
        // JSON is YAML, but for the word that says that nothing is passed: in quotes it would be a text.
        contract.to_string().replace("\"absent\"", "absent")
    }

    /// Completes a surface by what the sets of props tell: each prop takes the values that stand there. What is two-way is so by the
    /// custom of its framework.
    pub fn declare(&self, surface: &mut Surface) {
        let mut props: IndexMap<&str, Vec<Json>> = IndexMap::new();
        for (name, value) in self.props.iter().flatten() {
            let values = props.entry(name).or_default();
            if !values.contains(value) {
                values.push(value.clone());
            }
        }
        for (name, values) in props {
            let report = match surface.framework {
                Framework::Vue if matches!(name, "modelValue" | "visible" | "open" | "currentPage" | "active") => {
                    Some(format!("update:{name}"))
                }
                Framework::React if matches!(name, "value" | "checked") => Some("onChange".to_owned()),
                _ => None,
            };
            let two_way = report.is_some();
            surface.events.extend(report.map(|written| Event { reports: Some(name.to_owned()), ..Event::new(name, written) }));
            let required = self.props.iter().all(|set| set.contains_key(name));
            let booleans = [Json::Bool(false), Json::Bool(true)];
            let ty = if values.iter().all(Json::is_boolean) { Type::Union { of: booleans.into() } } else { Type::Union { of: values } };
            surface.props.push(Prop { required, two_way, ..Prop::new(name, ty) });
        }
    }

    /// A mount with each set of props, then updates from one to the next, then a press.
    pub fn scripts(&self) -> Result<Vec<Script>> {
        let none = [IndexMap::new()];
        let sets = if self.props.is_empty() { &none[..] } else { &self.props[..] };
        let values =
            |set: &IndexMap<String, Json>| set.iter().map(|(k, v)| (k.clone(), Value::from_plain(v.clone()))).collect::<IndexMap<_, _>>();
        let fills: IndexMap<String, Option<String>> = self.slots.iter().map(|(k, v)| (k.clone(), Some(v.clone()))).collect();
        let script = |set: &IndexMap<String, Json>, phases| Script {
            combination: Combination { props: values(set), fills: fills.clone() },
            parent: Parent::Obeys,
            phases,
            seed: 1,
            surroundings: Environment::default(),
        };
        let mut out: Vec<Script> = sets.iter().skip(1).map(|set| script(set, Vec::new())).collect();
        let mut phases = Vec::new();
        for pair in sets.windows(2) {
            let mut props = values(&pair[1]);
            for gone in pair[0].keys().filter(|k| !pair[1].contains_key(*k)) {
                props.insert(gone.clone(), Value::Absent);
            }
            phases.push(vec![Step::Pass { props }]);
        }
        if let Some(press) = &self.press {
            let at = Locator::parse(press).map_err(|e| anyhow!("{press}: {}", e.message))?;
            phases.push(vec![Step::Press { at, times: 1 }]);
        }
        out.push(script(&sets[0], phases));
        Ok(out)
    }
}
