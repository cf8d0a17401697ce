//! What the laws find and what they cost, on the components of a folder made by `fidelon demo`.

use std::collections::{BTreeMap, BTreeSet};
use std::path::{Path, PathBuf};
use std::time::{Duration, Instant};

use anyhow::{Context as _, Result, anyhow, ensure};
use fidelon_core::judge::laws;
use fidelon_core::plan;
use fidelon_run::judging::judge;
use fidelon_run::{JudgeOptions, Request, StageKind, StageOptions, check};
use fidelon_stage::Sandbox;
use serde::Deserialize;

/// The faults, by hand: what is planted where.
const FAULTS: &str = include_str!("../faults.json");
/// The folders of the kit's sound components.
const SOUND: [&str; 3] = ["vue", "react", "elements"];
/// Components as strangers write them, which the kit does not hold: a folder beside this crate.
const PIECES: &str = "pieces";

#[derive(Deserialize)]
pub struct Fault {
    pub file: String,
    pub fault: String,
    pub patch: Vec<Patch>,
}

#[derive(Deserialize)]
pub struct Patch {
    find: String,
    put: String,
    /// Where the text stands more than once: the last place instead of the first.
    #[serde(default)]
    last: bool,
}

/// The faults that were planted by hand.
pub fn planted() -> Result<Vec<Fault>> {
    serde_json::from_str(FAULTS).context("faults.json")
}

/// A text with patches in it.
pub fn patched(text: &str, patches: &[Patch], file: &str) -> Result<String> {
    let mut out = text.to_owned();
    for Patch { find, put, last } in patches {
        let at = if *last { out.rfind(find.as_str()) } else { out.find(find.as_str()) };
        let at = at.with_context(|| format!("`{find}` is not in {file}"))?;
        out.replace_range(at..at + find.len(), put);
    }
    Ok(out)
}

pub fn options(root: &Path) -> StageOptions {
    StageOptions::new(root.to_path_buf(), Some(root.join(".cache")), Duration::from_secs(2), 512, StageKind::Embedded)
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

pub fn copy(from: &Path, to: &Path) -> Result<()> {
    std::fs::create_dir_all(to)?;
    for entry in std::fs::read_dir(from)?.flatten() {
        std::fs::copy(entry.path(), to.join(entry.file_name()))?;
    }
    Ok(())
}

/// Ways to notice a fault: by laws alone, by the contract as well, and by the output and behaviour that were accepted.
const WAYS: [&str; 3] = ["laws", "contracts", "accepted"];

/// The sound components, three times: as they are, with their contracts, and with what they do accepted.
struct Sound {
    roots: [PathBuf; 3],
    broken: [BTreeMap<String, BTreeSet<String>>; 3],
}

impl Sound {
    /// Those of the kit have its contracts, those of a stranger the contracts that are drafted of them.
    fn of(kit: &Path, place: &Path) -> Result<Self> {
        let pieces = Path::new(env!("CARGO_MANIFEST_DIR")).join(PIECES);
        let roots = WAYS.map(|way| place.join(way));
        for root in &roots {
            for part in SOUND {
                copy(&kit.join(part), &root.join(part))?;
            }
            copy(&pieces, &root.join(PIECES))?;
        }
        let [_, held, accepted] = &roots;
        copy(&kit.join("contracts"), &held.join("contracts"))?;
        // Contracts name its components too.
        copy(&kit.join("angular"), &held.join("angular"))?;
        for piece in std::fs::read_dir(held.join(PIECES))?.flatten() {
            let name = piece.file_name().to_string_lossy().into_owned();
            match fidelon_run::drafting::draft(held, &format!("{PIECES}/{name}"), &[], &options(held)) {
                Ok(drafted) => std::fs::write(held.join(PIECES).join(format!("{name}.contract.yaml")), drafted.text)?,
                Err(why) => println!("{name}: no draft: {why}"),
            }
        }
        let request = Request { workers: 2, anew: true, ..Request::new(accepted.clone(), whole(), options(accepted)) };
        for record in fidelon_run::accepting::accept(&request, false).map_err(|e| anyhow!("{e}"))?.0 {
            match record.text {
                Ok(text) => write(&accepted.join(record.file), &text)?,
                Err(why) => println!("{}: nothing accepted: {why}", record.component),
            }
        }
        let found: Vec<_> = roots.iter().map(|root| broken(root, whole())).collect::<Result<_>>()?;
        let broken = found.try_into().map_err(|_| anyhow!("three ways"))?;
        Ok(Self { roots, broken })
    }

    /// What each way says of a fault that it does not say of the sound component.
    fn notice(&self, fault: &Fault) -> Result<[BTreeSet<String>; 3]> {
        let mut told = [BTreeSet::new(), BTreeSet::new(), BTreeSet::new()];
        for ((root, sound), told) in self.roots.iter().zip(&self.broken).zip(&mut told) {
            let file = root.join(&fault.file);
            let text = std::fs::read_to_string(&file)?;
            std::fs::write(&file, patched(&text, &fault.patch, &fault.file)?)?;
            for (component, rules) in broken(root, vec![PathBuf::from(&fault.file)])? {
                told.extend(rules.into_iter().filter(|r| !sound.get(&component).is_some_and(|s| s.contains(r))));
            }
            std::fs::write(&file, text)?;
        }
        Ok(told)
    }
}

fn whole() -> Vec<PathBuf> {
    SOUND.into_iter().chain([PIECES]).map(PathBuf::from).collect()
}

fn write(file: &Path, text: &str) -> Result<()> {
    std::fs::create_dir_all(file.parent().context("it is in a folder")?)?;
    Ok(std::fs::write(file, text)?)
}

/// Plants each fault in the sound components: how many the laws find alone, how many contracts, and how many what was accepted.
pub fn faults(folder: &Path) -> Result<()> {
    ensure!(folder.join("node_modules/vue").is_dir(), "`{}` is no folder made by `fidelon demo`", folder.display());
    let faults = planted()?;
    let place = tempfile::tempdir_in(folder)?;
    let sound = Sound::of(folder, &place.path().canonicalize()?)?;
    for (way, broken) in WAYS.iter().zip(&sound.broken) {
        for (component, rules) in broken.iter().filter(|(_, rules)| !rules.is_empty()) {
            println!("sound, and broken by {way}: {component}: {}", rules.iter().cloned().collect::<Vec<_>>().join(", "));
        }
    }
    let mut found: BTreeMap<&str, [usize; 4]> = BTreeMap::new();
    for fault in &faults {
        let told = sound.notice(fault)?;
        let is_law = |rule: &&String| laws::names().any(|l| l == rule.as_str());
        let by_laws: Vec<&str> = told[0].iter().filter(is_law).map(String::as_str).collect();
        let of = found.entry(if fault.file.starts_with(PIECES) { PIECES } else { "kit" }).or_default();
        for (count, hit) in of.iter_mut().zip([true, !by_laws.is_empty(), !told[1].is_empty(), !told[2].is_empty()]) {
            *count += usize::from(hit);
        }
        let word = |hit: bool, word: &'static str| if hit { word } else { "-" };
        let by = if by_laws.is_empty() { "-".to_owned() } else { by_laws.join(" ") };
        println!(
            "{:36} {}: {by} | {} | {}",
            fault.file,
            fault.fault,
            word(!told[1].is_empty(), "contract"),
            word(!told[2].is_empty(), "accepted")
        );
    }
    for (of, [planted, alone, held, accepted]) in found {
        println!(
            "{of}: faults planted: {planted}; found by laws alone: {alone}; with contracts: {held}; with what was accepted: {accepted}"
        );
    }
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
        let judged = judge(job, None, stage.as_mut(), None, &mut Sandbox::default(), JudgeOptions::default()).component;
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
