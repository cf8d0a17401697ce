//! What flags and surroundings mean together: built once, after parsing.

use std::io::{IsTerminal as _, Write as _};
use std::path::{Path, PathBuf};
use std::time::Duration;

use anyhow::Context as _;
use fidelon_report::Style;
use fidelon_run::{Cache, Driver, StageKind, StageOptions};
use fidelon_source::temporary;

use crate::args::{Color, Common, InputKind, StageArg, Stages};
use crate::output;
pub use crate::output::{note, print, print_commands, print_data};

/// The folder that a command works in.
pub fn root() -> anyhow::Result<PathBuf> {
    let here = std::env::current_dir().context("the current folder cannot be read")?;
    // Module names and places compare paths as the resolver gives them, with links followed.
    here.canonicalize().context("the current folder cannot be read")
}

/// How stages are set up for a project.
pub fn stage(root: &Path, stages: &Stages, common: &Common) -> StageOptions {
    let folder = cache_folder(common);
    let memory = usize::try_from(common.memory).unwrap_or(512);
    let real = stages.input == InputKind::Real;
    let on = match (stages.stage, &stages.driver) {
        (_, Some(url)) => StageKind::Browser { driver: Driver::At(url.clone()), real },
        (StageArg::Embedded, None) if !real => StageKind::Embedded,
        _ => StageKind::Browser { driver: Driver::Found, real },
    };
    let stage = StageOptions::new(root.to_path_buf(), folder, Duration::from_millis(common.deadline), memory, on)
        .knowing(fidelon_run::settings::read(root).aliases);
    match this_program() {
        Some(program) => stage.in_processes_of(program),
        None => stage,
    }
}

/// This program, to be started again: where the system knows it by what runs, an update that takes its file away meanwhile does no harm.
fn this_program() -> Option<PathBuf> {
    let running = Path::new("/proc/self/exe");
    if running.exists() { Some(running.to_path_buf()) } else { std::env::current_exe().ok() }
}

/// What is kept between runs.
pub fn cache(common: &Common) -> Cache {
    cache_folder(common).map_or_else(Cache::none, Cache::at)
}

fn cache_folder(common: &Common) -> Option<PathBuf> {
    if common.no_cache { None } else { common.cache.clone().or_else(default_cache) }
}

fn default_cache() -> Option<PathBuf> {
    directories::ProjectDirs::from("", "", "fidelon").map(|d| d.cache_dir().to_path_buf())
}

/// How standard output is styled.
pub fn style(common: &Common) -> Style {
    let no_color = std::env::var_os("NO_COLOR").is_some_and(|v| !v.is_empty());
    let colour = match common.color {
        Color::Always => true,
        Color::Never => false,
        Color::Auto => std::io::stdout().is_terminal() && !no_color,
    };
    // Where there is no terminal whoever reads may say how wide it is.
    let told = || std::env::var("COLUMNS").ok()?.parse().ok();
    let width = terminal_size::terminal_size().map(|(w, _)| usize::from(w.0)).or_else(told).unwrap_or(100);
    output::allow_colour(colour);
    Style { colour, width: width.clamp(40, 120) }
}

/// Writes a file that is not there yet, whole.
pub fn write_new(path: &Path, content: &str) -> anyhow::Result<()> {
    let folder = path.parent().filter(|p| !p.as_os_str().is_empty()).unwrap_or(Path::new("."));
    let failed = || format!("`{}` cannot be written", path.display());
    let mut file = temporary(folder).with_context(failed)?;
    file.write_all(content.as_bytes()).with_context(failed)?;
    // Another program may have made it in the meantime.
    file.persist_noclobber(path).with_context(failed)?;
    Ok(())
}

/// Writes a file of bytes whole.
pub fn write_bytes(path: &Path, content: &[u8]) -> anyhow::Result<()> {
    let folder = path.parent().filter(|p| !p.as_os_str().is_empty()).unwrap_or(Path::new("."));
    let failed = || format!("`{}` cannot be written", path.display());
    let mut file = temporary(folder).with_context(failed)?;
    file.write_all(content).with_context(failed)?;
    file.persist(path).with_context(failed)?;
    Ok(())
}

/// Writes a file whole: to a temporary one beside it, then renamed.
pub fn write_whole(path: &Path, content: &str) -> anyhow::Result<()> {
    write_bytes(path, content.as_bytes())
}
