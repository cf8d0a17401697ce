//! `fidelon completions` and `fidelon manual`: what shells and `man` read.

use anyhow::Context as _;
use clap::CommandFactory as _;

use crate::args::{Args, Completions, Manual};
use crate::{exit, setting};

/// Prints shell completions.
pub fn completions(args: &Completions) -> i32 {
    let mut out = Vec::new();
    clap_complete::generate(args.shell, &mut Args::command(), "fidelon", &mut out);
    setting::print_data(&String::from_utf8_lossy(&out));
    exit::HOLDS
}

/// Prints the manual page, or writes one for each command.
pub fn manual(args: &Manual) -> anyhow::Result<i32> {
    let Some(dir) = &args.dir else {
        let mut out = Vec::new();
        clap_mangen::Man::new(Args::command()).render(&mut out)?;
        setting::print_data(&String::from_utf8_lossy(&out));
        return Ok(exit::HOLDS);
    };
    let shown = dir.display();
    if dir.is_file() {
        anyhow::bail!("`{shown}` is a file: name a folder for the pages");
    }
    std::fs::create_dir_all(dir).with_context(|| format!("`{shown}` cannot be made"))?;
    clap_mangen::generate_to(Args::command(), dir).with_context(|| format!("`{shown}` cannot be written to"))?;
    Ok(exit::HOLDS)
}
