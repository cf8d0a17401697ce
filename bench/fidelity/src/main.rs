//! How true the embedded stage is to a real browser: see README.md beside this crate's parent.
#![allow(clippy::print_stdout, reason = "it prints figures")]

mod compare;
mod corpus;
mod fuzz;

use std::collections::BTreeMap;
use std::path::{Path, PathBuf};
use std::sync::Mutex;
use std::sync::atomic::{AtomicUsize, Ordering};

use anyhow::{Context, Result};
use clap::{Parser, Subcommand};

use crate::compare::{Outcome, Stages};
use crate::corpus::Corpus;

/// As in the program.
#[global_allocator]
static ALLOCATOR: mimalloc::MiMalloc = mimalloc::MiMalloc;

#[derive(Parser)]
#[command(about = "How true the embedded stage is to a real browser")]
struct Arguments {
    #[command(subcommand)]
    command: Command,
}

#[derive(Subcommand)]
enum Command {
    /// Mounts, updates and presses the components of published libraries on both stages, and compares
    Libraries {
        /// Folders with package.json, components.json and what `npm ci` installs [default: those beside this crate]
        #[arg(long)]
        corpus: Vec<PathBuf>,
        /// Writes for each component whether it is the same, or the first difference and its cause
        #[arg(long, value_name = "FILE")]
        json: Option<PathBuf>,
        /// Only components whose name contains this
        #[arg(long, value_name = "TEXT")]
        only: Option<String>,
        /// How many are compared at once
        #[arg(long, default_value_t = 2)]
        jobs: usize,
    },
    /// Runs random programs over the page's interfaces in a realm and in a browser; shrinks and prints what differs
    Fuzz {
        /// How many programs
        #[arg(long, default_value_t = 10_000)]
        programs: u64,
        /// Which programs
        #[arg(long, default_value_t = 1)]
        seed: u64,
        /// How many differences are shown
        #[arg(long, default_value_t = 1)]
        most: usize,
    },
}

fn main() -> Result<()> {
    // SAFETY: no other thread runs yet.
    unsafe { std::env::set_var("TZ", "UTC") };
    match Arguments::parse().command {
        Command::Libraries { corpus, json, only, jobs } => libraries(corpus, json.as_deref(), only.as_deref(), jobs),
        Command::Fuzz { programs, seed, most } => fuzz::run(programs, seed, most),
    }
}

fn own_corpora() -> Result<Vec<PathBuf>> {
    let folder = Path::new(env!("CARGO_MANIFEST_DIR")).join("corpora");
    let mut found: Vec<PathBuf> = std::fs::read_dir(&folder).context("the corpora")?.flatten().map(|e| e.path()).collect();
    found.retain(|f| f.join("components.json").is_file());
    found.sort();
    Ok(found)
}

fn libraries(corpora: Vec<PathBuf>, json: Option<&Path>, only: Option<&str>, jobs: usize) -> Result<()> {
    let corpora = if corpora.is_empty() { own_corpora()? } else { corpora };
    let (mut same, mut all) = (0, 0);
    let mut records = Vec::new();
    for folder in corpora {
        let corpus = Corpus::read(&folder)?;
        let outcomes = outcomes(&corpus, only, jobs);
        let held = outcomes.iter().filter(|(_, o)| o.is_same()).count();
        println!("{}: {held} of {} the same", corpus.name, outcomes.len());
        let mut causes: BTreeMap<&str, Vec<&str>> = BTreeMap::new();
        for (name, outcome) in &outcomes {
            if let Outcome::Differs { cause, .. } = outcome {
                causes.entry(cause).or_default().push(name);
            }
        }
        let mut causes: Vec<_> = causes.into_iter().collect();
        causes.sort_by_key(|(_, names)| std::cmp::Reverse(names.len()));
        for (cause, names) in causes {
            println!("  {:3}  {cause}: {}", names.len(), names.join(" "));
        }
        (same, all) = (same + held, all + outcomes.len());
        records.extend(outcomes.iter().map(|(name, outcome)| outcome.record(&corpus.name, name)));
    }
    #[allow(clippy::cast_precision_loss, reason = "a few hundred components")]
    let share = if all == 0 { 0.0 } else { 100.0 * same as f64 / all as f64 };
    println!("fidelity: {same} of {all} components are the same on both stages ({share:.1} %)");
    if let Some(file) = json {
        std::fs::write(file, serde_json::to_string_pretty(&records)? + "\n").with_context(|| file.display().to_string())?;
    }
    Ok(())
}

/// What came of each component, in the order of the corpus.
fn outcomes(corpus: &Corpus, only: Option<&str>, jobs: usize) -> Vec<(String, Outcome)> {
    let chosen: Vec<_> = corpus.components.iter().filter(|c| only.is_none_or(|o| c.name.contains(o))).collect();
    let next = AtomicUsize::new(0);
    let slots: Vec<Mutex<Option<Outcome>>> = chosen.iter().map(|_| Mutex::new(None)).collect();
    std::thread::scope(|scope| {
        for _ in 0..jobs.clamp(1, chosen.len().max(1)) {
            scope.spawn(|| {
                let mut stages = Stages::new(&corpus.root);
                while let Some((component, slot)) = {
                    let i = next.fetch_add(1, Ordering::Relaxed);
                    chosen.get(i).zip(slots.get(i))
                } {
                    let outcome = stages.compare(corpus, component);
                    if let Ok(mut slot) = slot.lock() {
                        *slot = Some(outcome);
                    }
                }
            });
        }
    });
    let outcomes = slots.into_iter().filter_map(|s| s.into_inner().ok().flatten());
    chosen.iter().map(|c| c.name.clone()).zip(outcomes).collect()
}
