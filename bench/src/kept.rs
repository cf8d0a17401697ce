//! What a run over unchanged components costs, and a run after one of them was changed: against the run that judged them all.

use std::fs;
use std::path::Path;
use std::time::{Duration, Instant};

use anyhow::{Context as _, Result, anyhow, ensure};
use fidelon_run::{JudgeOptions, Outcome, Request, StageKind, StageOptions, check};

/// Small components of the kit, half of each framework.
const SMALL: [&str; 4] = ["vue/VentSwitch.vue", "react/VentSwitch.tsx", "vue/PieceLedger.vue", "react/PieceLedger.tsx"];

/// Makes a project of `count` components with the packages of a demo, and times three runs.
pub fn figures(demo: &Path, count: usize) -> Result<()> {
    let demo = demo.canonicalize().with_context(|| demo.display().to_string())?;
    let folder = tempfile::tempdir()?;
    let root = folder.path().canonicalize()?;
    std::os::unix::fs::symlink(demo.join("node_modules"), root.join("node_modules"))?;
    fs::write(root.join("package.json"), "{ \"private\": true }")?;
    for n in 0..count {
        let from = SMALL[n % SMALL.len()];
        let (stem, extension) = from.rsplit('/').next().and_then(|name| name.split_once('.')).context("a name")?;
        let within = root.join(format!("src/part{}", n / 50));
        fs::create_dir_all(&within)?;
        let name = format!("{stem}{n}.{extension}");
        // No two are the same.
        let remark = if extension == "vue" { format!("<!-- {n} -->\n") } else { format!("// {n}\n") };
        fs::write(within.join(&name), fs::read_to_string(demo.join(from))? + &remark)?;
        fs::write(within.join(format!("{stem}{n}.contract.yaml")), format!("component: ./{name}\nclauses: []\n"))?;
    }
    let request = |anew| Request {
        how: JudgeOptions { effort: fidelon_run::Effort::Quick, ..JudgeOptions::default() },
        anew,
        ..Request::new(
            root.clone(),
            vec!["src".into()],
            StageOptions::new(root.clone(), Some(root.join(".cache")), Duration::from_secs(5), 512, StageKind::Embedded),
        )
    };
    let timed = || -> Result<(Outcome, f64)> {
        let began = Instant::now();
        let outcome = check(&request(false), &|_| {}).map_err(|e| anyhow!("{e}"))?;
        Ok((outcome, began.elapsed().as_secs_f64()))
    };
    let (first, all) = timed()?;
    ensure!((first.kept, first.results.components.len()) == (0, count), "nothing was kept before");
    let mut best = f64::INFINITY;
    for _ in 0..5 {
        let (again, took) = timed()?;
        ensure!(again.kept == count && again.results == first.results, "{} of {count} were kept", again.kept);
        best = best.min(took);
    }
    fs::write(root.join("src/part0/VentSwitch0.vue"), fs::read_to_string(demo.join(SMALL[0]))? + "<!-- changed -->\n")?;
    let (changed, one) = timed()?;
    ensure!(changed.kept == count - 1, "one was changed");
    println!(
        "{count} components: {all:.2} s to judge all, {best:.3} s unchanged ({:.0} times less), {one:.3} s with one changed",
        all / best
    );
    Ok(())
}
