//! What playing components in processes of their own costs, against playing them in the process that judges them: whole checks, by turns,
//! each in a program of its own, by the processor's time of that program and of all that it started.

use std::path::{Path, PathBuf};
use std::process::Command;
use std::time::Duration;

use anyhow::{Context as _, Result, anyhow, ensure};
use fidelon_run::{Request, StageKind, StageOptions, check};

/// Prints the processor's time of so many checks each way, and what the one costs in times of the other.
pub fn figures(demo: &Path, paths: &[PathBuf], rounds: usize) -> Result<()> {
    ensure!(demo.join("node_modules/vue").is_dir(), "`{}` is no folder made by `fidelon demo`", demo.display());
    let (mut on_thread, mut in_process) = (Vec::new(), Vec::new());
    for round in 0..rounds {
        // Whatever slows the machine down for a while slows both.
        let (thread, process) = if round % 2 == 0 {
            let thread = spent(demo, paths, false)?;
            (thread, spent(demo, paths, true)?)
        } else {
            let process = spent(demo, paths, true)?;
            (spent(demo, paths, false)?, process)
        };
        println!("round {round}: in this process {thread:.2} s, in processes {process:.2} s, {:+.1} %", 100.0 * (process / thread - 1.0));
        on_thread.push(thread);
        in_process.push(process);
    }
    let median = |times: &mut Vec<f64>| {
        times.sort_by(f64::total_cmp);
        times.get(times.len() / 2).copied().context("no round")
    };
    let (thread, process) = (median(&mut on_thread)?, median(&mut in_process)?);
    println!("medians: {thread:.2} s and {process:.2} s: in processes {:+.1} %", 100.0 * (process / thread - 1.0));
    Ok(())
}

fn spent(demo: &Path, paths: &[PathBuf], processes: bool) -> Result<f64> {
    let mut command = Command::new(std::env::current_exe()?);
    command.arg("apart-once").arg(demo).args(paths);
    if processes {
        command.arg("--processes");
    }
    let out = command.output()?;
    ensure!(out.status.success(), "{}", String::from_utf8_lossy(&out.stderr));
    Ok(String::from_utf8(out.stdout)?.trim().parse()?)
}

/// One check with nothing kept; prints the processor's time that it took, in seconds.
pub fn once(demo: &Path, paths: Vec<PathBuf>, processes: bool) -> Result<()> {
    let root = demo.canonicalize()?;
    let mut stage = StageOptions::new(root.clone(), None, Duration::from_secs(5), 512, StageKind::Embedded);
    if processes {
        stage = stage.in_processes_of(std::env::current_exe()?);
    }
    let request = Request { workers: 1, anew: true, ..Request::new(root, paths, stage) };
    let results = check(&request, &|_| {}).map_err(|e| anyhow!("{e}"))?.results;
    ensure!(!results.components.is_empty(), "nothing was checked");
    drop(request);
    println!("{}", processor_time()?);
    Ok(())
}

/// The time of this process and of those that it started and that have ended, in seconds (proc(5), `stat`).
fn processor_time() -> Result<f64> {
    /// Ticks in a second: the same on every Linux machine.
    const TICKS: f64 = 100.0;
    let stat = std::fs::read_to_string("/proc/self/stat").context("processor times are read as Linux gives them")?;
    let (_, fields) = stat.rsplit_once(')').context("no name")?;
    // The state comes next, the third field; times are the 14th to the 17th.
    let ticks: f64 = fields.split_whitespace().skip(11).take(4).filter_map(|f| f.parse::<f64>().ok()).sum();
    Ok(ticks / TICKS)
}
