//! The same plan on both stages.

use std::path::Path;
use std::time::{Duration, Instant};

use anyhow::{Result, anyhow};
use fidelon_browser::{Browser, DriverChoice, Options};
use fidelon_core::scene::Scene;
use fidelon_core::stage::{Script, Stage};
use fidelon_core::surface::Surface;
use fidelon_loader::{Aliases, Cache};

/// Plays so many mounts on the embedded stage and in a browser.
pub fn figures(root: &Path, surface: &Surface, embedded: &mut dyn Stage, scripts: &[Script], cases: usize) -> Result<()> {
    let scripts: Vec<Script> = scripts.iter().cycle().take(cases).cloned().collect();
    let began = Instant::now();
    for script in &scripts {
        embedded.play(script).map_err(|e| anyhow!("{e}"))?;
    }
    let here = rate(cases, began.elapsed());
    let cache = Cache::at(std::env::temp_dir().join("fidelon-bench"));
    let options = Options {
        root: root.to_path_buf(),
        cache,
        aliases: Aliases::default(),
        deadline: Duration::from_secs(30),
        driver: DriverChoice::Found,
        real: false,
    };
    let mut browser = Browser::new(options);
    let began = Instant::now();
    browser.open(&Scene::alone(surface.clone())).map_err(|e| anyhow!("{e}"))?;
    let start = began.elapsed();
    browser.renew();
    let began = Instant::now();
    browser.open(&Scene::alone(surface.clone())).map_err(|e| anyhow!("{e}"))?;
    browser.play(&scripts[0]).map_err(|e| anyhow!("{e}"))?;
    let fresh = began.elapsed();
    let began = Instant::now();
    for seen in browser.play_all(&scripts) {
        seen.map_err(|e| anyhow!("{e}"))?;
    }
    let batched = rate(cases, began.elapsed());
    let began = Instant::now();
    let few = &scripts[..scripts.len().min(300)];
    for script in few {
        browser.play(script).map_err(|e| anyhow!("{e}"))?;
    }
    let single = rate(few.len(), began.elapsed());
    println!("{}", surface.file);
    println!("  embedded stage, cases per second           {here:.0}");
    println!("  browser stage, cases per second            {batched:.0} in batches, {single:.0} one by one");
    println!("  browser and driver started, page opened    {} ms", start.as_millis());
    println!("  first case on the page                     {} ms", fresh.as_millis());
    if let Some(mib) = browsers() {
        println!("  memory of the browser's processes          {mib} MiB");
    }
    Ok(())
}

#[allow(clippy::cast_precision_loss, reason = "counts of cases are small")]
fn rate(cases: usize, took: Duration) -> f64 {
    cases as f64 / took.as_secs_f64()
}

/// The proportional memory of the processes that descend from this one; only Linux tells.
fn browsers() -> Option<u64> {
    let mut ours = vec![std::process::id()];
    let mut total = 0;
    let parents: Vec<(u32, u32)> = std::fs::read_dir("/proc")
        .ok()?
        .flatten()
        .filter_map(|e| {
            let id: u32 = e.file_name().to_string_lossy().parse().ok()?;
            let stat = std::fs::read_to_string(e.path().join("stat")).ok()?;
            Some((id, stat.rsplit_once(") ")?.1.split(' ').nth(1)?.parse().ok()?))
        })
        .collect();
    let mut at = 0;
    while at < ours.len() {
        let parent = ours[at];
        ours.extend(parents.iter().filter(|(_, p)| *p == parent).map(|(id, _)| *id));
        at += 1;
    }
    for id in &ours[1..] {
        let Ok(text) = std::fs::read_to_string(format!("/proc/{id}/smaps_rollup")) else { continue };
        let line = text.lines().find(|l| l.starts_with("Pss:"));
        total += line.and_then(|l| l.split_whitespace().nth(1)?.parse::<u64>().ok()).unwrap_or(0);
    }
    Some(total / 1024)
}
