//! The laws on published components, with no contract: what they find, to be read against the sources.

use std::collections::BTreeMap;
use std::path::Path;
use std::time::Duration;

use anyhow::{Context, Result};
use fidelon_core::contract;
use fidelon_core::finding::Finding;
use fidelon_core::stage::Stage;
use fidelon_run::judging::{self, ContractSource, judge};
use fidelon_run::survey::Job;
use fidelon_run::{JudgeOptions, StageKind, StageOptions};
use fidelon_stage::Sandbox;
use serde_json::json;

use crate::corpus::{Component, Corpus};
use crate::over;

/// How long one call may take.
const DEADLINE: Duration = Duration::from_secs(20);

/// What came of one component.
struct Judged {
    name: String,
    findings: Vec<Finding>,
    /// Why there is no verdict.
    reason: Option<String>,
    checked: usize,
}

/// Holds the components of some corpora to the laws.
pub fn run(corpora: &[Corpus], json: Option<&Path>, only: Option<&str>, jobs: usize) -> Result<()> {
    let mut records = Vec::new();
    let mut by_law: BTreeMap<String, usize> = BTreeMap::new();
    for corpus in corpora {
        let chosen = corpus.chosen(only);
        let options = StageOptions::new(corpus.root.clone(), None, DEADLINE, 512, StageKind::Embedded);
        let state = || (options.stage(), Sandbox::default());
        let judged = over(&chosen, jobs, &state, &|(stage, sandbox), component| one(corpus, component, stage.as_mut(), sandbox));
        let holds = judged.iter().filter(|j| j.findings.is_empty() && j.reason.is_none()).count();
        println!("{}: {} components, {holds} hold, {} checks", corpus.name, judged.len(), judged.iter().map(|j| j.checked).sum::<usize>());
        for one in &judged {
            if let Some(reason) = &one.reason {
                println!("  ? {}: {reason}", one.name);
            }
            for f in &one.findings {
                *by_law.entry(f.rule.clone()).or_default() += 1;
                println!("  {} {}: {}", one.name, f.rule, f.failure.message);
                let side = |text: &Option<String>| text.as_deref().unwrap_or("-").chars().take(160).collect::<String>();
                println!("      - {}\n      + {}\n      with {}", side(&f.failure.expected), side(&f.failure.actual), f.combination);
            }
            records.push(json!({ "corpus": corpus.name, "component": one.name, "reason": one.reason, "findings": one.findings }));
        }
    }
    for (law, count) in by_law {
        println!("{count:4}  {law}");
    }
    if let Some(file) = json {
        std::fs::write(file, serde_json::to_string_pretty(&records)? + "\n").with_context(|| file.display().to_string())?;
    }
    Ok(())
}

fn one(corpus: &Corpus, component: &Component, stage: &mut dyn Stage, sandbox: &mut Sandbox) -> Judged {
    let mut out = Judged { name: component.name.clone(), findings: Vec::new(), reason: None, checked: 0 };
    let mut scene = match component.scene(&corpus.root) {
        Ok(scene) => scene,
        Err(error) => return Judged { reason: Some(error.to_string()), ..out },
    };
    component.declare(&mut scene.parts[0].surface);
    let job = Job { scene: scene.clone(), ..Job::new(scene.parts[0].surface.clone()) };
    // No promise: only what the corpus gives to the component.
    let text = component.given();
    let contract = match contract::read(&text) {
        Ok(contract) => contract,
        Err(faults) => return Judged { reason: Some(faults.iter().map(|f| f.message.clone()).collect::<Vec<_>>().join("; ")), ..out },
    };
    let held = ContractSource { file: "components.json", text: &text, beside: "", contract: Some(&contract), partial: None };
    let judging::Judged { component: judged, faults, .. } = judge(&job, Some(held), stage, None, sandbox, JudgeOptions::default());
    if let Some(fault) = faults.first() {
        return Judged { reason: Some(fault.fault.message.clone()), ..out };
    }
    out.findings = judged.findings;
    out.reason = judged.reason.map(|r| r.message);
    out.checked = judged.laws.iter().map(|l| l.checked).sum();
    out
}
