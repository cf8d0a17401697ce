//! The command line of `fidelon challenge`.

use std::path::PathBuf;

use clap::Args as ClapArgs;
use fidelon_run::challenging::FaultKind;

use super::Effort;

/// `fidelon challenge`
#[derive(Debug, ClapArgs)]
#[command(
    after_help = "Are the promises strong enough to notice a fault? Each component's source gets the faults that people make: a condition turned round, a\n\
    default left out, an event that is not sent or sent twice, a listener or a slot that is missing, a limit that is off by one. Contract, laws\n\
    and accepted output are held against each. What none of them notices is told, with a clause that does. A fault of which nothing that was\n\
    played shows anything does not count. No file is touched.\n\n\
    Kinds: condition, guard, logic, boundary, number, arithmetic, flag, default, event-lost, event-twice, payload, listener, modifier, once, update,\n\
    step, method, cleanup, attribute, class, key, binding, rest, output, slot-lost, slot-twice, fallback, style.\n\n\
    Examples:\n  fidelon challenge src/KilnDial.vue\n  fidelon challenge src --least 80%             for CI: exit 1 when less is noticed\n  \
    fidelon challenge src --since main            only in lines that were changed\n  fidelon challenge src --kinds guard,event-lost --most all"
)]
pub struct Challenge {
    /// Folders, components (`file`, or `file#export` for one of several), contracts [default: this folder].
    pub paths: Vec<PathBuf>,
    /// At most so many faults in one component, of each kind in turn; or `all`.
    #[arg(long, value_name = "N", default_value = "40", value_parser = most)]
    pub most: Most,
    /// Only these kinds of faults.
    #[arg(long, value_name = "KINDS", value_delimiter = ',', value_parser = fault_kind)]
    pub kinds: Vec<FaultKind>,
    /// The share of faults that must be noticed, in percent: less is exit code 1.
    #[arg(long, value_name = "PERCENT", value_parser = percent)]
    pub least: Option<u8>,
    /// Only faults in lines that were changed since this revision, committed or not. Asks git.
    #[arg(long, value_name = "REV")]
    pub since: Option<String>,
    /// Write what came of it as JSON to a file; `-` writes it to standard output in place of the report.
    #[arg(long, value_name = "FILE")]
    pub json: Option<PathBuf>,
    /// How many components are challenged at once [default: one for each processor].
    #[arg(long, value_name = "N", value_parser = clap::value_parser!(u16).range(1..=256))]
    pub jobs: Option<u16>,
    /// How much is played for the laws.
    #[arg(long, value_enum, default_value_t, value_name = "EFFORT")]
    pub effort: Effort,
}

/// How many faults are tried in one component.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Most {
    /// Every one.
    All,
    /// So many.
    Some(usize),
}

fn most(text: &str) -> Result<Most, String> {
    match text.parse::<usize>() {
        _ if text == "all" => Ok(Most::All),
        Ok(most) if most > 0 => Ok(Most::Some(most)),
        _ => Err("write a number from 1, or `all`".into()),
    }
}

fn percent(text: &str) -> Result<u8, String> {
    let number = text.trim_end_matches('%').trim().parse::<u8>().ok().filter(|n| *n <= 100);
    number.ok_or_else(|| "write a share as `80%`".into())
}

fn fault_kind(text: &str) -> Result<FaultKind, String> {
    FaultKind::named(text).ok_or_else(|| {
        let known: Vec<&str> = FaultKind::all().map(FaultKind::name).collect();
        format!("there is no such kind of fault; there are {}", known.join(", "))
    })
}
