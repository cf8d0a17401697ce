//! Figures about the stages, all as ratios within one run or as counts: see README.md beside this crate.
#![allow(clippy::print_stdout, reason = "it prints figures")]

mod apart;
mod contract;
mod fuzz;
mod growth;
mod kept;
mod keystrokes;
mod laws;
mod rewrites;
mod share;
mod stages;

use std::path::{Path, PathBuf};
use std::time::{Duration, Instant};

use anyhow::{Context, Result, anyhow};
use clap::{Parser, Subcommand};
use fidelon_core::plan;
use fidelon_core::scene::Scene;
use fidelon_core::stage::{Combination, Environment, Parent, Script, Stage as _};
use fidelon_core::surface::Surface;
use fidelon_engine::modules::NoModules;
use fidelon_engine::{Limits, Realm};
use fidelon_loader::{Aliases, Cache};
use fidelon_reader::NoImports;
use fidelon_source::DiskFiles;
use fidelon_stage::{Embedded, Options};

/// As in the program.
#[global_allocator]
static ALLOCATOR: mimalloc::MiMalloc = mimalloc::MiMalloc;

#[derive(Parser)]
#[command(about = "Figures about the stages")]
struct Arguments {
    #[command(subcommand)]
    command: Command,
}

#[derive(Subcommand)]
enum Command {
    /// Mounts a component again and again: cases per second, where the time goes, the peak of memory
    Cases {
        /// The component's file
        component: PathBuf,
        /// How many mounts
        #[arg(long, default_value_t = 1000)]
        cases: usize,
    },
    /// What share of a mount is spent in the page's interfaces rather than in the framework's own code
    Share {
        /// The component's file
        component: PathBuf,
        /// Name the calls that take most, too
        #[arg(long)]
        calls: bool,
    },
    /// The same mounts on the embedded stage and in a real browser: cases per second, the browser's start and memory
    Stages {
        /// The component's file
        component: PathBuf,
        /// How many mounts
        #[arg(long, default_value_t = 2000)]
        cases: usize,
    },
    /// How costs grow from 1,000 to 8,000 elements: mount, update, snapshot, judgement; fails where one grows too steeply
    Growth {
        /// Measure the stage in a real browser, too
        #[arg(long)]
        browser: bool,
    },
    /// What playing components in processes of their own costs, against playing them in the process that judges them
    Apart {
        /// A folder made by `fidelon demo`
        folder: PathBuf,
        /// Folders and components of it
        #[arg(default_values = ["vue", "react"])]
        paths: Vec<PathBuf>,
        /// How many checks each way
        #[arg(long, default_value_t = 7)]
        rounds: usize,
    },
    /// One check of `apart`
    #[command(hide = true)]
    ApartOnce {
        /// A folder made by `fidelon demo`
        folder: PathBuf,
        /// Folders and components of it
        paths: Vec<PathBuf>,
        /// In processes of their own
        #[arg(long)]
        processes: bool,
    },
    /// From a keystroke in an editor to the first and to the whole verdict
    Keystrokes {
        /// A folder made by `fidelon demo`
        folder: PathBuf,
        /// Files below it
        #[arg(default_values = ["vue/KilnDial.vue", "react/PieceLedger.tsx", "svelte/ShelfCard.svelte", "angular/kiln-dial.ts"])]
        files: Vec<String>,
        /// The program
        #[arg(long, default_value = "target/release/fidelon")]
        program: PathBuf,
        /// How many keystrokes
        #[arg(long, default_value_t = 9)]
        rounds: usize,
    },
    /// How many combinations meet every pair, and how long it takes to find them
    Arrays,
    /// Judges contracts of 10, 20 and 40 clauses on a component with 12 props, under pairs and more combinations
    Contract {
        /// A folder made by `fidelon demo`
        folder: PathBuf,
    },
    /// Plants faults in the sound kit and in the pieces: how many the laws find alone, with contracts, and with what was accepted
    Faults {
        /// A folder made by `fidelon demo`
        folder: PathBuf,
    },
    /// Compares pairs of rewritten components, and each planted fault with the sound component
    Rewrites {
        /// A folder made by `fidelon demo`
        folder: PathBuf,
    },
    /// The time that all laws take, in times of rendering the plan once
    Laws {
        /// A folder made by `fidelon demo`
        folder: PathBuf,
    },
    /// What a run over unchanged components costs
    Kept {
        /// A folder made by `fidelon demo`
        folder: PathBuf,
        /// How many components
        #[arg(long, default_value_t = 1000)]
        count: usize,
    },
    /// Reads random texts as contracts, for so long
    Fuzz {
        /// A folder with contracts to start from
        folder: PathBuf,
        /// How long
        #[arg(long, default_value_t = 600)]
        seconds: u64,
        /// Decides which texts
        #[arg(long, default_value_t = 1)]
        seed: u64,
    },
    /// Evaluates a script in an empty realm; `__clock('')` gives nanoseconds of real time
    Script {
        /// The script
        file: PathBuf,
    },
}

fn main() -> Result<()> {
    fidelon_stage::apart::worker::serve_if_asked();
    match Arguments::parse().command {
        Command::Cases { component, cases } => count_cases(&component, cases),
        Command::Share { component, calls } => {
            let (mut stage, scripts, surface, _) = staged(&component)?;
            println!("{}", component.display());
            share::figures(&mut stage, &surface, &scripts, calls)
        }
        Command::Stages { component, cases } => {
            let (mut stage, scripts, surface, root) = staged(&component)?;
            stages::figures(&root, &surface, &mut stage, &scripts, cases)
        }
        Command::Growth { browser } => growth::figures(browser),
        Command::Apart { folder, paths, rounds } => apart::figures(&folder, &paths, rounds),
        Command::ApartOnce { folder, paths, processes } => apart::once(&folder, paths, processes),
        Command::Keystrokes { folder, files, program, rounds } => keystrokes::figures(&program.canonicalize()?, &folder, &files, rounds),
        Command::Arrays => {
            arrays();
            Ok(())
        }
        Command::Contract { folder } => contract::figures(&folder),
        Command::Faults { folder } => laws::faults(&folder),
        Command::Rewrites { folder } => rewrites::figures(&folder),
        Command::Laws { folder } => laws::cost(&folder),
        Command::Kept { folder, count } => kept::figures(&folder, count),
        Command::Fuzz { folder, seconds, seed } => fuzz::contracts(&folder, seconds, seed),
        Command::Script { file } => script(&file),
    }
}

/// A component on a stage, with the scripts that mount each of its combinations.
fn staged(component: &Path) -> Result<(Embedded, Vec<Script>, Surface, PathBuf)> {
    let path = component.canonicalize().with_context(|| component.display().to_string())?;
    let root = path.parent().context("a file has a folder")?.to_path_buf();
    let shown = path.file_name().context("a file has a name")?.to_string_lossy().into_owned();
    let surfaces = fidelon_reader::surfaces(&DiskFiles, &NoImports, &path, &shown).map_err(|m| anyhow!(m))?;
    let surface = surfaces.first().context("there is no component in it")?;
    let domains = plan::declared(surface).map_err(|unknown| anyhow!("no values for {}", unknown.join(", ")))?;
    let sizes: Vec<usize> = domains.iter().map(plan::Domain::len).collect();
    let planned = plan::plan(&domains, None, &plan::Rules::new(&sizes, Vec::new())).map_err(|e| anyhow!("{e:?}"))?;
    let cache = std::env::temp_dir().join("fidelon-bench");
    let mut stage =
        Embedded::new(Options { root: root.clone(), cache: Cache::at(cache), aliases: Aliases::default(), limits: Limits::default() });
    stage.open(&Scene::alone(surface.clone())).map_err(|e| anyhow!("{e}"))?;
    Ok((stage, planned.combinations.into_iter().map(mount).collect(), surface.clone(), root))
}

fn mount(combination: Combination) -> Script {
    Script { combination, parent: Parent::Obeys, phases: Vec::new(), seed: 1, surroundings: Environment::default() }
}

fn count_cases(component: &Path, cases: usize) -> Result<()> {
    let (mut stage, scripts, ..) = staged(component)?;
    // The first start compiles what no cache holds yet.
    let first = stage.spent().start;
    let began = Instant::now();
    let mut early = None;
    for (i, script) in scripts.iter().cycle().take(cases).enumerate() {
        stage.play(script).map_err(|e| anyhow!("{e}"))?;
        if i + 1 == 100 {
            early = peak();
        }
    }
    let took = began.elapsed();
    let spent = stage.spent();
    let part = |d: Duration| format!("{:5.1} %", 100.0 * d.as_secs_f64() / took.as_secs_f64());
    println!("{} of {} combinations", component.display(), scripts.len());
    println!("  cases per second and core   {:.0}", cases as f64 / took.as_secs_f64());
    println!("  the component at work       {}", part(spent.play));
    println!("  reset between cases         {}", part(spent.reset));
    println!("  reading what is to be seen  {}", part(spent.observe));
    println!("  starting fresh realms       {}", part(spent.start - first));
    if let (Some(early), Some(late)) = (early, peak()) {
        println!("  peak memory                 {early} MiB after 100 cases, {late} MiB after {cases}");
    }
    Ok(())
}

/// The largest resident size so far, in MiB; only Linux tells.
fn peak() -> Option<u64> {
    let status = std::fs::read_to_string("/proc/self/status").ok()?;
    let line = status.lines().find(|l| l.starts_with("VmHWM:"))?;
    Some(line.split_whitespace().nth(1)?.parse::<u64>().ok()? / 1024)
}

fn clock(realm: &Realm) -> Result<()> {
    let began = Instant::now();
    realm.define("__clock", move |_, _| began.elapsed().as_nanos().to_string()).map_err(|e| anyhow!("{e}"))
}

/// The arrays by which generators are compared: so many props of so many values.
fn arrays() {
    for shape in [&[(3, 4)][..], &[(3, 13)], &[(4, 15), (3, 17), (2, 29)], &[(4, 1), (3, 39), (2, 35)], &[(2, 100)], &[(10, 20)]] {
        let sizes = shape.iter().flat_map(|(size, times)| std::iter::repeat_n(*size, *times));
        let domains: Vec<plan::Domain> =
            sizes.enumerate().map(|(i, n)| plan::Domain::Prop(format!("p{i}"), (0..n).map(fidelon_core::Value::json).collect())).collect();
        let sizes: Vec<usize> = domains.iter().map(plan::Domain::len).collect();
        let began = Instant::now();
        let planned = plan::plan(&domains, Some(plan::Cover::Pairs), &plan::Rules::new(&sizes, Vec::new()));
        let words: Vec<String> = shape.iter().map(|(size, times)| format!("{size}^{times}")).collect();
        let rows = planned.map_or(0, |p| p.combinations.len());
        println!("{:24} {rows:4} combinations  {:.2} s", words.join(" "), began.elapsed().as_secs_f64());
    }
}

fn script(file: &Path) -> Result<()> {
    let limits = Limits { deadline: Duration::from_secs(60), ..Limits::default() };
    let realm = Realm::new(limits, Box::new(NoModules)).map_err(|e| anyhow!("{e}"))?;
    clock(&realm)?;
    realm.keep().map_err(|e| anyhow!("{e}"))?;
    let source = std::fs::read_to_string(file).with_context(|| file.display().to_string())?;
    println!("{}", realm.eval(&source).map_err(|e| anyhow!("{e}"))?);
    Ok(())
}
