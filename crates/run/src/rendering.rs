//! One component in one combination.

use std::path::{Path, PathBuf};
use std::rc::Rc;

use crate::stages::StageOptions;
use fidelon_core::Value;
use fidelon_core::contract::Contract;
use fidelon_core::observation::PhaseSnapshot;
use fidelon_core::scene::Scene;
use fidelon_core::stage::{Combination, Edit, Parent, Script, StageError, Step};
use fidelon_core::surface::{Surface, Type};
use fidelon_source::{DiskFiles, Files};
use fidelon_stage::Sandbox;

use crate::caching_runner::{CachingRunner, Realms};
use crate::judging::around;
use crate::learning;
use crate::planning::plainest;
use crate::scene_builder::Staging;
use crate::surfaces::surfaces_in;
use crate::survey::{CONTRACT, Job, shown, tidy};

/// What was rendered.
#[derive(Debug, Clone)]
pub struct Rendered {
    /// What it declares.
    pub surface: Surface,
    /// What was passed.
    pub combination: Combination,
    /// Required props that nobody gave a value: one was made up.
    pub made_up: Vec<String>,
    /// What was seen.
    pub seen: PhaseSnapshot,
}

/// Why nothing was rendered.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
pub enum RenderError {
    /// The request cannot be met as it stands.
    #[error("{0}")]
    Request(String),
    /// The stage could not.
    #[error("{0}")]
    Stage(StageError),
}

/// What is to be rendered. What is not given comes from the contract beside the component, else from the declared types.
#[derive(Debug, Clone, Copy, Default)]
pub struct RenderRequest<'a> {
    /// `file`, `file#export`, an address, or a contract, whose first component it is.
    pub component: &'a str,
    /// The text of its file, where that is another one than on the disk.
    pub source: Option<&'a str>,
    /// Props and their values, as a command line writes them.
    pub with: &'a [(String, String)],
    /// Slots and their HTML.
    pub fills: &'a [(String, String)],
    /// What is done once it is mounted.
    pub steps: &'a [Step],
}

/// Renders a component.
///
/// # Errors
/// [`RenderError`] says what is wrong with the request or the component.
pub fn render(root: &Path, asked: RenderRequest<'_>, stage: &StageOptions) -> Result<Rendered, RenderError> {
    let RenderRequest { component, source, with, fills, steps } = asked;
    let Subject { surface, contract } = subject(root, component, source)?;
    let mut stage = stage.stage();
    // The contract beside it also tells what stands around it.
    let settings = crate::settings::read(root);
    settings.sound().map_err(RenderError::Request)?;
    let mut scene = match &contract {
        Some((file, contract)) if contract.scene.is_none() => Staging::new(root, file, contract, &settings.aliases).alone(&surface),
        _ => Scene::alone(surface.clone()),
    };
    settings.surround(root, &mut scene).map_err(RenderError::Request)?;
    if let Some(text) = source {
        stage.edit(&[Edit { file: surface.file.clone(), text: text.to_owned() }]).map_err(RenderError::Stage)?;
    }
    let contract = contract.map(|(_, contract)| contract);
    // What asks for its application or its parent is shown within it.
    let job = Job { wrapped: scene.wrap.len(), root: root.into(), scene, ..Job::new(surface.clone()) };
    let surrounded = around::surrounded(&job, contract.as_ref(), stage.as_mut(), &mut Sandbox::default());
    stage.open(&surrounded.as_ref().unwrap_or(&job).scene).map_err(RenderError::Stage)?;
    let surroundings = contract.as_ref().map(|c| c.surroundings.clone()).unwrap_or_default();
    let surface = {
        let mut runs = CachingRunner::new(stage.as_mut(), Realms::Shared, surroundings.clone());
        learning::learned(&surface, contract.as_ref(), &mut runs)
    };
    let mut combination = plainest(&surface, contract.as_ref());
    let mut made_up = made_up(contract.as_ref(), &surface);
    for (name, text) in with {
        let Some(prop) = surface.prop(name) else {
            if surface.open {
                combination.props.insert(name.clone(), value_of(text, None));
                continue;
            }
            let known: Vec<&str> = surface.props.iter().map(|p| p.name.as_str()).collect();
            return Err(RenderError::Request(unknown("prop", name, &surface.name, &known)));
        };
        combination.props.insert(name.clone(), value_of(text, Some(&prop.ty)));
        made_up.retain(|m| m != name);
    }
    for (name, html) in fills {
        if surface.slot(name).is_none() && !surface.open {
            let known: Vec<&str> = surface.slots.iter().map(|s| s.name.as_str()).collect();
            return Err(RenderError::Request(unknown("slot", name, &surface.name, &known)));
        }
        combination.fills.insert(name.clone(), Some(html.clone()).filter(|h| !h.is_empty()));
    }
    let script = Script {
        combination: combination.clone(),
        parent: Parent::Obeys,
        phases: if steps.is_empty() { Vec::new() } else { vec![steps.to_vec()] },
        seed: 1,
        surroundings,
    };
    let mut observation = stage.play(&script).map_err(RenderError::Stage)?;
    let seen = observation.phases.pop().ok_or_else(|| RenderError::Request("the stage saw nothing".into()))?;
    if let Some(fault) = seen.faults.first() {
        let step = steps.get(fault.step).map(ToString::to_string).unwrap_or_default();
        return Err(RenderError::Request(format!("the step `{step}` cannot be done: {}", fault.message)));
    }
    Ok(Rendered { surface, combination, made_up, seen: Rc::unwrap_or_clone(seen) })
}

fn unknown(what: &str, name: &str, component: &str, known: &[&str]) -> String {
    let hint = fidelon_core::locator::nearest(name, known.iter().copied()).map_or_else(
        || if known.is_empty() { format!("it declares no {what}") } else { format!("it declares: {}", known.join(", ")) },
        |near| format!("did you mean `{near}`?"),
    );
    format!("`{name}` is no {what} of {component} ({hint})")
}

pub(crate) fn surface_of(path: &Path, root: &Path, export: Option<&str>) -> Result<Surface, RenderError> {
    surface_in(path, root, export, None)
}

/// The same, where the file's text is another one than on the disk.
fn surface_in(path: &Path, root: &Path, export: Option<&str>, source: Option<&str>) -> Result<Surface, RenderError> {
    let wrong = |m: String| RenderError::Request(m);
    let file = shown(path, root);
    if source.is_none() && !crate::survey::holds_components(path) && !fidelon_reader::is_page(path) {
        let there = if DiskFiles.is_file(path) {
            "is no component (.vue, .svelte, .tsx, .jsx, .html, or a script that exports a component or registers a custom element)"
        } else {
            "does not exist"
        };
        return Err(wrong(format!("`{file}` {there}")));
    }
    let found = surfaces_in(path, root, source).map_err(|m| wrong(format!("`{file}`: {m}")))?;
    let chosen = match export {
        Some(export) => found.iter().find(|s| s.export == export || s.name == export),
        None => found.iter().find(|s| s.export == "default").or(found.first()),
    };
    chosen.cloned().ok_or_else(|| {
        let names: Vec<&str> = found.iter().map(|s| s.export.as_str()).collect();
        wrong(if names.is_empty() {
            format!("`{file}` exports no component")
        } else {
            format!("`{file}` exports no such component: there is {}", names.join(", "))
        })
    })
}

/// What is to be rendered, and the contract that tells what to pass to it.
struct Subject {
    surface: Surface,
    contract: Option<(PathBuf, Contract)>,
}

/// What a person names: a file, `file#export`, the address of a page that a server on this machine renders, or a contract, whose first
/// component it is.
fn subject(root: &Path, named: &str, source: Option<&str>) -> Result<Subject, RenderError> {
    let wrong = |message: String| RenderError::Request(message);
    if named.contains("://") {
        if !fidelon_core::contract::is_of_this_machine(named) {
            return Err(wrong(format!("`{named}` is not loaded: only `http:` addresses of this machine are")));
        }
        return Ok(Subject { surface: Surface::served(named), contract: None });
    }
    if named.ends_with(CONTRACT) {
        let path = tidy(&root.join(named));
        if !DiskFiles.is_file(&path) {
            return Err(wrong(format!("there is no file `{named}`")));
        }
        let contract = contract_in(&path).ok_or_else(|| wrong(format!("`{named}` has a fault: see `fidelon check {named}`")))?;
        let Some((first, _)) = contract.components.first() else {
            return Err(wrong(format!("`{named}` is of a scene, which is no single component: `fidelon sheet {named}` shows it")));
        };
        if first.contains("://") {
            return Ok(Subject { surface: Surface::served(first), contract: Some((path, contract)) });
        }
        let (file, export) = first.split_once('#').map_or((first.as_str(), None), |(f, e)| (f, Some(e)));
        let surface = surface_of(&tidy(&path.with_file_name("").join(file)), root, export)?;
        return Ok(Subject { surface, contract: Some((path, contract)) });
    }
    let (file, export) = named.split_once('#').map_or((named, None), |(f, e)| (f, Some(e)));
    let path = tidy(&root.join(file));
    let surface = surface_in(&path, root, export, source)?;
    let beside = path.file_stem().map(|stem| path.with_file_name(format!("{}{CONTRACT}", stem.to_string_lossy())));
    Ok(Subject { surface, contract: beside.and_then(|file| Some((file.clone(), contract_in(&file)?))) })
}

/// The contract in a file, if it is there and without a fault.
fn contract_in(file: &Path) -> Option<Contract> {
    let text = DiskFiles.read(file).ok()?;
    let beside = |name: &str| DiskFiles.read(&tidy(&file.with_file_name(name))).map_err(|e| e.to_string());
    match fidelon_core::contract::read_all(&text, &beside) {
        (Some(contract), faults) if faults.is_empty() => Some(contract),
        _ => None,
    }
}

/// The required props whose value nobody gave.
fn made_up(contract: Option<&Contract>, surface: &Surface) -> Vec<String> {
    let named = |name: &str| contract.is_some_and(|c| c.props.contains_key(name));
    surface.props.iter().filter(|p| p.required && !named(&p.name)).map(|p| p.name.clone()).collect()
}

/// A value from the command line: text where the prop takes text, else what JSON makes of it. `absent` passes nothing.
pub(crate) fn value_of(text: &str, ty: Option<&Type>) -> Value {
    if text == "absent" {
        return Value::Absent;
    }
    let takes_text = match ty {
        Some(Type::String | Type::Node) => true,
        Some(Type::Union { of }) => of.iter().any(|v| v.as_str() == Some(text)),
        _ => false,
    };
    if takes_text {
        return Value::json(text);
    }
    if let Some(js) = text.strip_prefix("js:") {
        return Value::Js(js.into());
    }
    serde_json::from_str(text).map_or_else(|_| Value::json(text), Value::Json)
}
