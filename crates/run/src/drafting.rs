//! A first contract: observed, written, and held against the component until all that it says is so.

use std::path::Path;

use fidelon_core::contract::{self, Contract};
use fidelon_core::draft;
use fidelon_core::plan::{self, Domain, Rules};
use fidelon_core::results::Component;
use fidelon_core::scene::Scene;
use fidelon_core::surface::Surface;
use fidelon_core::{Value, Verdict};
use fidelon_stage::Sandbox;

use crate::caching_runner::{CachingRunner, Realms};
use crate::judging::{self, ContractSource, JudgeOptions};
use crate::learning;
use crate::rendering::{RenderError, surface_of, value_of};
use crate::scene_builder::Staging;
use crate::stages::StageOptions;
use crate::survey::{Job, tidy};

/// A contract that the component keeps as it is.
#[derive(Debug, Clone)]
pub struct Drafted {
    /// Its text.
    pub text: String,
    /// The component.
    pub component: Component,
    /// Clauses in it.
    pub clauses: usize,
    /// Laws that the component breaks, which are switched off in it.
    pub laws: Vec<String>,
}

/// Drafts a contract of `file` (or `file#export`), to lie in the component's folder. `with` are `prop=value` pairs for props whose values
/// nobody else tells.
///
/// # Errors
/// [`RenderError`] says what is wrong with the request or the component.
pub fn draft(root: &Path, file: &str, with: &[(String, String)], options: &StageOptions) -> Result<Drafted, RenderError> {
    let (written, export) = file.split_once('#').map_or((file, None), |(f, e)| (f, Some(e)));
    let path = tidy(&root.join(written));
    let surface = surface_of(&path, root, export)?;
    let mut stage = options.stage();
    let mut scene = Scene::alone(surface.clone());
    for part in &mut scene.parts {
        part.tracked = true;
    }
    let settings = crate::settings::read(root);
    settings.sound().map_err(RenderError::Request)?;
    settings.surround(root, &mut scene).map_err(RenderError::Request)?;
    let alone = Job { wrapped: scene.wrap.len(), root: root.into(), scene, ..Job::new(surface.clone()) };
    let surrounded = judging::around::surrounded(&alone, None, stage.as_mut(), &mut Sandbox::default());
    stage.open(&surrounded.as_ref().unwrap_or(&alone).scene).map_err(RenderError::Stage)?;
    let mut runs = CachingRunner::new(stage.as_mut(), Realms::Shared, fidelon_core::stage::Environment::default());
    let domains = domains(&learning::learned(&surface, None, &mut runs), with)?;
    let sizes: Vec<usize> = domains.iter().map(Domain::len).collect();
    let plan = plan::plan(&domains, None, &Rules::new(&sizes, Vec::new()));
    let plan = plan.map_err(|_| RenderError::Request("there is no combination to observe it in".into()))?;
    let mut draft = draft::draft(&surface, &domains, &plan.combinations, &mut runs).map_err(RenderError::Stage)?;
    let name = path.file_name().map(|n| n.to_string_lossy().into_owned()).unwrap_or_default();
    let component = if surface.export == "default" { format!("./{name}") } else { format!("./{name}#{}", surface.export) };
    let beside = path.with_file_name("draft.contract.yaml");
    // What was observed is what holds, but the language may see it otherwise here and there; and laws look further.
    for _ in 0..ROUNDS {
        let text = draft::write(&draft, &surface, &component);
        let judged = judged(root, &beside, &text, &surface, options)?;
        let broken: Vec<&str> = judged.clauses.iter().filter(|c| c.verdict != Verdict::Holds).filter_map(|c| c.clause.as_deref()).collect();
        let laws: Vec<String> = judged.laws.iter().filter(|l| l.verdict == Verdict::Broken).filter_map(|l| l.law.clone()).collect();
        if broken.is_empty() && laws.is_empty() {
            if judged.verdict == Verdict::Holds {
                return Ok(Drafted { text, component: judged, clauses: draft.clauses.len(), laws: draft.laws });
            }
            let why = judged.reason.map_or_else(|| "it could not be judged".to_owned(), |r| r.message);
            return Err(RenderError::Request(format!("`{file}`: {why}")));
        }
        draft.clauses.retain(|c| !broken.contains(&c.words.as_str()));
        draft.laws.extend(laws);
    }
    Err(RenderError::Request(format!("`{file}` shows something else each time that it is played: no draft holds")))
}

/// Each round drops what did not hold in the one before.
const ROUNDS: usize = 4;

fn domains(surface: &Surface, with: &[(String, String)]) -> Result<Vec<Domain>, RenderError> {
    let mut known = surface.clone();
    for (name, _) in with {
        if surface.prop(name).is_none() && !surface.open {
            return Err(RenderError::Request(format!("`{name}` is no prop of {}", surface.name)));
        }
        known.props.retain(|p| p.name != *name);
    }
    let mut domains = draft::domains(&known).map_err(|unknown| {
        let (first, more) = (unknown.join("`, `"), unknown.iter().map(|u| format!(" --with {u}=…")).collect::<String>());
        RenderError::Request(format!("the source does not tell what `{first}` takes, and a parent must pass it: say it by{more}"))
    })?;
    let mut given: Vec<Domain> = Vec::new();
    for (name, text) in with {
        let value: Value = value_of(text, surface.prop(name).map(|p| &p.ty));
        match given.iter_mut().find(|d| d.is_of(name)) {
            Some(Domain::Prop(_, values)) => values.push(value),
            _ => given.push(Domain::Prop(name.clone(), vec![value])),
        }
    }
    given.append(&mut domains);
    Ok(given)
}

/// The component held to a text that is no file yet.
fn judged(root: &Path, beside: &Path, text: &str, surface: &Surface, options: &StageOptions) -> Result<Component, RenderError> {
    let (contract, faults) = contract::read_all(text, &|_| Err("a draft reads no other file".into()));
    let Some(contract) = contract.filter(|_| faults.is_empty()) else {
        let told: Vec<String> = faults.iter().map(|f| f.message.clone()).collect();
        return Err(RenderError::Request(format!("the draft itself is faulty, please report this: {}", told.join("; "))));
    };
    let settings = crate::settings::read(root);
    let mut scene = Staging::new(root, beside, &contract as &Contract, &settings.aliases).alone(surface);
    settings.surround(root, &mut scene).map_err(RenderError::Request)?;
    let job = Job { wrapped: scene.wrap.len(), root: root.into(), scene: scene.clone(), ..Job::new(scene.parts[0].surface.clone()) };
    let held = ContractSource { file: "draft.contract.yaml", text, beside: "", contract: Some(&contract), partial: None };
    let mut stage = options.stage();
    let mut sandbox = Sandbox::default();
    let judging::Judged { component, faults, .. } =
        judging::judge(&job, Some(held), stage.as_mut(), None, &mut sandbox, JudgeOptions::default());
    match faults.first() {
        Some(fault) => Err(RenderError::Request(format!("the draft itself is faulty, please report this: {}", fault.fault.message))),
        None => Ok(component),
    }
}
