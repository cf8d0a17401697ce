//! What the laws find and what they cost, on the components of a folder made by `fidelon demo`.

use std::collections::{BTreeMap, BTreeSet};
use std::path::{Path, PathBuf};
use std::time::{Duration, Instant};

use anyhow::{Context as _, Result, anyhow, ensure};
use fidelon_core::judge::laws;
use fidelon_core::plan;
use fidelon_run::judging::judge;
use fidelon_run::{How, On, Request, StageOptions, check};
use fidelon_stage::Sandbox;
use serde::Deserialize;

/// The faults, by hand: what is planted where.
const FAULTS: &str = include_str!("../faults.json");
/// The folders of sound components.
const SOUND: [&str; 3] = ["vue", "react", "elements"];

#[derive(Deserialize)]
struct Fault {
    file: String,
    fault: String,
    patch: Vec<Patch>,
}

#[derive(Deserialize)]
struct Patch {
    find: String,
    put: String,
}

fn options(root: &Path) -> StageOptions {
    StageOptions::new(root.to_path_buf(), Some(root.join(".cache")), Duration::from_secs(2), 512, On::Embedded)
}

/// What breaks in each component below some paths.
fn broken(root: &Path, paths: Vec<PathBuf>) -> Result<BTreeMap<String, BTreeSet<String>>> {
    let request = Request { workers: 2, anew: true, ..Request::new(root.to_path_buf(), paths, options(root)) };
    let results = check(&request, &|_| {}).map_err(|e| anyhow!("{e}"))?.results;
    let of = |c: &fidelon_core::results::Component| c.findings.iter().map(|f| f.rule.clone()).collect();
    let mut out: BTreeMap<String, BTreeSet<String>> = results.components.iter().map(|c| (c.component.clone(), of(c))).collect();
    // A contract that no longer fits its component is told too, with the name that is missing.
    for fault in results.faults {
        out.entry(fault.place.file).or_default().insert(fault.fault.message);
    }
    Ok(out)
}

fn copy(from: &Path, to: &Path) -> Result<()> {
    std::fs::create_dir_all(to)?;
    for entry in std::fs::read_dir(from)?.flatten() {
        std::fs::copy(entry.path(), to.join(entry.file_name()))?;
    }
    Ok(())
}

/// Plants each fault in the sound kit: how many the laws find alone, and with the kit's contracts.
pub fn faults(folder: &Path) -> Result<()> {
    ensure!(folder.join("node_modules/vue").is_dir(), "`{}` is no folder made by `fidelon demo`", folder.display());
    let faults: Vec<Fault> = serde_json::from_str(FAULTS).context("faults.json")?;
    let place = tempfile::tempdir_in(folder)?;
    let root = place.path().canonicalize()?;
    let (alone, held) = (root.join("alone"), root.join("held"));
    for part in SOUND {
        copy(&folder.join(part), &alone.join(part))?;
        copy(&folder.join(part), &held.join(part))?;
    }
    copy(&folder.join("contracts"), &held.join("contracts"))?;
    let whole = || SOUND.map(PathBuf::from).to_vec();
    let sound = [broken(&alone, whole())?, broken(&held, whole())?];
    let mut found = [0, 0];
    for fault in &faults {
        let mut told = [BTreeSet::new(), BTreeSet::new()];
        for (i, root) in [&alone, &held].into_iter().enumerate() {
            let file = root.join(&fault.file);
            let text = std::fs::read_to_string(&file)?;
            let mut patched = text.clone();
            for Patch { find, put } in &fault.patch {
                ensure!(patched.contains(find.as_str()), "{}: `{find}` is not in {}", fault.fault, fault.file);
                patched = patched.replacen(find, put, 1);
            }
            std::fs::write(&file, patched)?;
            for (component, rules) in broken(root, vec![PathBuf::from(&fault.file)])? {
                told[i].extend(rules.into_iter().filter(|r| !sound[i].get(&component).is_some_and(|s| s.contains(r))));
            }
            std::fs::write(&file, text)?;
        }
        let is_law = |rule: &&String| laws::names().any(|l| l == rule.as_str());
        let by_laws: Vec<&str> = told[0].iter().filter(is_law).map(String::as_str).collect();
        found[0] += usize::from(!by_laws.is_empty());
        found[1] += usize::from(!told[1].is_empty());
        let by = if by_laws.is_empty() { "-".to_owned() } else { by_laws.join(" ") };
        let clauses = told[1].iter().filter(|r| !is_law(r)).count();
        let also = match (told[1].is_empty(), clauses) {
            (true, _) => "NOT FOUND".to_owned(),
            (_, 0) => String::new(),
            (_, 1) => "and 1 clause".to_owned(),
            (_, n) => format!("and {n} clauses"),
        };
        println!("{:26} {}: {by} {also}", fault.file, fault.fault);
    }
    println!("faults planted: {}; found by laws alone: {}; with the kit's contracts: {}", faults.len(), found[0], found[1]);
    Ok(())
}

/// The time that all laws take, in times of rendering the plan once.
pub fn cost(folder: &Path) -> Result<()> {
    let root = folder.canonicalize()?;
    let paths: Vec<PathBuf> = SOUND.map(PathBuf::from).to_vec();
    let survey = fidelon_run::survey::survey(&root, &paths, &fidelon_run::Cache::none()).map_err(|e| anyhow!("{e}"))?;
    let (mut rendering, mut judging) = (Duration::ZERO, Duration::ZERO);
    for job in survey.jobs.iter().filter(|j| j.scene.state.is_none()) {
        let domains = plan::declared(&job.surface).map_err(|u| anyhow!("no values for {}", u.join(", ")))?;
        let sizes: Vec<usize> = domains.iter().map(plan::Domain::len).collect();
        let planned = plan::plan(&domains, None, &plan::Rules::new(&sizes, Vec::new())).map_err(|e| anyhow!("{e:?}"))?;
        let mut stage = options(&root).stage();
        // What is compiled and cached once counts for neither.
        let warm = stage.open(&job.scene).is_ok() && stage.play(&laws::mount(&planned.combinations[0])).is_ok();
        if !warm {
            continue;
        }
        let mut stage = options(&root).stage();
        let began = Instant::now();
        stage.open(&job.scene).map_err(|e| anyhow!("{e}"))?;
        for combination in &planned.combinations {
            let _ = stage.play(&laws::mount(combination));
        }
        let once = began.elapsed();
        let mut stage = options(&root).stage();
        let began = Instant::now();
        let judged = judge(job, None, stage.as_mut(), None, &mut Sandbox::default(), How::default()).component;
        let all = began.elapsed();
        println!(
            "{:28} {:4} combinations  {:6.0} ms once  {:6.0} ms with all laws  {:4.1} times",
            judged.component,
            planned.combinations.len(),
            once.as_secs_f64() * 1e3,
            all.as_secs_f64() * 1e3,
            all.as_secs_f64() / once.as_secs_f64()
        );
        rendering += once;
        judging += all;
    }
    println!("all laws take {:.1} times as long as rendering the plan once", judging.as_secs_f64() / rendering.as_secs_f64());
    Ok(())
}
