//! How true the embedded stage is to a real browser: see README.md beside this crate's parent.
#![allow(clippy::print_stdout, reason = "it prints figures")]

mod compare;
mod corpus;
mod fuzz;
mod laws;
mod surfaces;

use std::collections::BTreeMap;
use std::path::{Path, PathBuf};
use std::sync::Mutex;
use std::sync::atomic::{AtomicUsize, Ordering};

use anyhow::{Context, Result};
use clap::{Parser, Subcommand};

use crate::compare::{Outcome, Stages};
use crate::corpus::{Component, Corpus};

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
    /// Compares the props that are known of published components with what their libraries publish of them.
    Surfaces {
        /// A folder with a corpus; those of this bench without it.
        #[arg(long)]
        corpus: Vec<PathBuf>,
        /// Components whose name contains this.
        #[arg(long)]
        only: Option<String>,
        /// How many at once.
        #[arg(long, default_value_t = 2)]
        jobs: usize,
    },
    /// Holds the components of published libraries to the laws, with no contract, and prints what they find
    Laws {
        /// Folders as above [default: those beside this crate]
        #[arg(long)]
        corpus: Vec<PathBuf>,
        /// Writes the findings of each component
        #[arg(long, value_name = "FILE")]
        json: Option<PathBuf>,
        /// Only components whose name contains this
        #[arg(long, value_name = "TEXT")]
        only: Option<String>,
        /// How many are judged at once
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
        Command::Surfaces { corpus, only, jobs } => surfaces::run(&corpora(corpus)?, only.as_deref(), jobs),
        Command::Laws { corpus, json, only, jobs } => laws::run(&corpora(corpus)?, json.as_deref(), only.as_deref(), jobs),
        Command::Fuzz { programs, seed, most } => fuzz::run(programs, seed, most),
    }
}

/// The corpora in these folders, or the ones beside this crate.
fn corpora(given: Vec<PathBuf>) -> Result<Vec<Corpus>> {
    let folders = if given.is_empty() { own_corpora()? } else { given };
    folders.iter().map(|f| Corpus::read(f)).collect()
}

fn own_corpora() -> Result<Vec<PathBuf>> {
    let folder = Path::new(env!("CARGO_MANIFEST_DIR")).join("corpora");
    let mut found: Vec<PathBuf> = std::fs::read_dir(&folder).context("the corpora")?.flatten().map(|e| e.path()).collect();
    found.retain(|f| f.join("components.json").is_file());
    found.sort();
    Ok(found)
}

fn libraries(given: Vec<PathBuf>, json: Option<&Path>, only: Option<&str>, jobs: usize) -> Result<()> {
    let (mut same, mut all) = (0, 0);
    let mut records = Vec::new();
    for corpus in corpora(given)? {
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
    let chosen = corpus.chosen(only);
    let outcomes = over(&chosen, jobs, &|| Stages::new(&corpus.root), &|stages, component| stages.compare(corpus, component));
    chosen.iter().map(|c| c.name.clone()).zip(outcomes).collect()
}

/// Does something with every component on several threads, each with a state of its own; what comes of it is in their order.
fn over<S, T: Send>(
    components: &[&Component],
    jobs: usize,
    state: &(dyn Fn() -> S + Sync),
    work: &(dyn Fn(&mut S, &Component) -> T + Sync),
) -> Vec<T> {
    let next = AtomicUsize::new(0);
    let slots: Vec<Mutex<Option<T>>> = components.iter().map(|_| Mutex::new(None)).collect();
    std::thread::scope(|scope| {
        for _ in 0..jobs.clamp(1, components.len().max(1)) {
            let thread = || {
                let mut state = state();
                while let Some((component, slot)) = {
                    let i = next.fetch_add(1, Ordering::Relaxed);
                    components.get(i).zip(slots.get(i))
                } {
                    let done = work(&mut state, component);
                    if let Ok(mut slot) = slot.lock() {
                        *slot = Some(done);
                    }
                }
            };
            // The engine that evaluates expressions has a limit of its own.
            std::thread::Builder::new().stack_size(16 << 20).spawn_scoped(scope, thread).expect("the system gives a thread");
        }
    });
    slots.into_iter().filter_map(|s| s.into_inner().ok().flatten()).collect()
}
