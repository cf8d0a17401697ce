//! `fidelon demo`: the kiln-studio kit, unpacked and checked with no network.

use std::path::{Path, PathBuf};

use anyhow::{Context as _, bail};
use fidelon_core::Verdict;
use fidelon_demo::{KIT, PACKAGES};

use crate::args::{Check, Common, Demo, Format};
use crate::{check, exit, reports, setting};

/// Runs the command; gives the exit code: 0 when the tour shows what it should.
pub fn run(args: &Demo, common: &Common) -> anyhow::Result<i32> {
    if let Some(port) = args.server {
        return crate::studio::serve(port);
    }
    let here = setting::root()?;
    let dir = here.join(&args.dir);
    unpack(&dir)?;
    let dir = dir.canonicalize().with_context(|| format!("`{}` cannot be read", dir.display()))?;
    let style = setting::style(common);
    let name = args.dir.display();

    setting::print(&format!("{}\n\n", style.strong("The sound kit: every promise holds.")));
    let of = |paths: &[&str]| Check { paths: paths.iter().map(PathBuf::from).collect(), ..Check::default() };
    let sound =
        check::judge(&dir, &of(&["vue", "react", "svelte", "angular", "solid", "preact", "elements", "register", "contracts"]), common)?
            .results;
    reports::print(&dir, &sound, Format::Report, style);

    setting::print(&format!("\n{}\n\n", style.strong("The flawed ones: what breaks in each, and exactly when.")));
    let flawed = check::judge(&dir, &of(&["flawed"]), common)?.results;
    reports::print(&dir, &flawed, Format::Report, style);

    for (file, results) in [("sound.results.json", &sound), ("flawed.results.json", &flawed)] {
        setting::write_whole(&dir.join(file), &(serde_json::to_string_pretty(results)? + "\n"))?;
    }
    setting::print(&format!(
        "\nThe kit is in {name}, the results in {name}/*.results.json. Look around:\n  cd {name}\n  fidelon check laws\n  fidelon explain prop/live\n  fidelon replay DoubledCard@479d01\n  fidelon render vue/KilnDial.vue --with locked=true --as outline\n  fidelon check vue flawed --html report\n  fidelon challenge vue/GlazeBadge.vue\n  fidelon compare vue react\n  fidelon serve vue react\n"
    ));
    let as_told = sound.components.iter().all(|c| c.verdict == Verdict::Holds)
        && sound.faults.is_empty()
        && flawed.components.iter().all(|c| c.verdict == Verdict::Broken && !c.findings.is_empty());
    if !as_told {
        setting::note("fidelon: the tour did not show what it should: please report this");
        return Ok(exit::UNJUDGED);
    }
    Ok(exit::HOLDS)
}

/// Frameworks in the order in which examples are shown.
pub const FRAMEWORKS: [&str; 7] = ["vue", "react", "svelte", "angular", "solid", "preact", "elements"];

/// The kit's components that break a law, by file and by framework: the examples of `fidelon explain`.
pub fn flawed(law: &str) -> Vec<(&'static str, Vec<(&'static str, &'static str)>)> {
    let of = |framework: &'static str| {
        let folder = format!("laws/{framework}/{}/", law.replace('/', "-"));
        let files: Vec<_> = KIT.iter().filter(|(path, _)| path.starts_with(&folder)).copied().collect();
        (!files.is_empty()).then_some((framework, files))
    };
    FRAMEWORKS.into_iter().filter_map(of).collect()
}

/// Unpacks kit and packages. A file that was changed since is left alone: it may be somebody's work.
fn unpack(dir: &Path) -> anyhow::Result<()> {
    if dir.is_file() {
        bail!("`{}` is a file: name a folder to unpack the demo into", dir.display());
    }
    let marker = dir.join(".fidelon-demo");
    let foreign = dir.is_dir() && !marker.is_file() && dir.read_dir().is_ok_and(|mut d| d.next().is_some());
    if foreign {
        bail!(
            "the folder `{}` is there already and was not made by the demo: name another one, as `fidelon demo my-studio`",
            dir.display()
        );
    }
    std::fs::create_dir_all(dir).with_context(|| format!("`{}` cannot be made", dir.display()))?;
    std::fs::write(&marker, concat!(env!("CARGO_PKG_VERSION"), "\n"))
        .with_context(|| format!("`{}` cannot be written", marker.display()))?;
    for (path, text) in KIT {
        let file = dir.join(path);
        match std::fs::read_to_string(&file) {
            Ok(there) if there == *text => continue,
            Ok(_) => {
                setting::note(&format!("note: {} was changed and is left as it is", file.display()));
                continue;
            }
            Err(_) => {}
        }
        if let Some(folder) = file.parent() {
            std::fs::create_dir_all(folder)?;
        }
        setting::write_whole(&file, text)?;
    }
    if !dir.join("node_modules").is_dir() {
        // Unpacked beside and renamed, so that a run that is cut off leaves no half of it.
        let temporary = tempfile::tempdir_in(dir)?;
        let tar = zstd::decode_all(PACKAGES).context("the packed packages are damaged")?;
        tar::Archive::new(tar.as_slice()).unpack(temporary.path()).context("the packed packages cannot be unpacked")?;
        std::fs::rename(temporary.path().join("node_modules"), dir.join("node_modules"))?;
    }
    Ok(())
}
