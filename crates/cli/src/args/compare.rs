//! The command line of `fidelon compare`.

use std::path::PathBuf;

use clap::{Args as ClapArgs, ValueEnum};

use super::{Effort, Stages, pair};

/// `fidelon compare`
#[derive(Debug, ClapArgs)]
#[command(
    after_help = "Is a rewrite the same for its parents? Both are played through the same combinations, acts of a person, changes of their parent and removal,\n\
    in one framework or in two. Each difference is told with exactly when it is there, and is major (a parent that was right can break), minor\n\
    (something is new) or patch (nobody can notice without looking at the markup). Exit code 1 when there is a larger one than --allow.\n\n\
    Examples:\n  fidelon compare src/Card.vue src/Card.tsx\n  fidelon compare src/Card.vue --since main --allow minor\n  \
    fidelon compare old/Dial.vue new/Dial.vue --renamed value=target\n  fidelon compare node_modules/studio-1 node_modules/studio-2 --changelog -"
)]
pub struct Compare {
    /// The component as it was: a file, `file#export`, or a folder of several.
    pub before: PathBuf,
    /// The component that takes its place, or the folder.
    pub after: Option<PathBuf>,
    /// Compare the first path with itself at this revision: `main`, `HEAD~3`. Asks git.
    #[arg(long, value_name = "REV")]
    pub since: Option<String>,
    /// What the first calls OLD the second calls NEW: a prop, an event, a slot or a member.
    #[arg(long, value_name = "OLD=NEW", value_parser = pair)]
    pub renamed: Vec<(String, String)>,
    /// The largest difference that is no failure [default: none may be there].
    #[arg(long, value_enum, value_name = "LEVEL")]
    pub allow: Option<LevelArg>,
    /// Write what differs as JSON to a file; `-` writes it to standard output in place of the report.
    #[arg(long, value_name = "FILE")]
    pub json: Option<PathBuf>,
    /// Write lines for a changelog, in Markdown, to a file; `-` writes them to standard output in place of the report.
    #[arg(long, value_name = "FILE")]
    pub changelog: Option<PathBuf>,
    /// How much is played.
    #[arg(long, value_enum, default_value_t, value_name = "EFFORT")]
    pub effort: Effort,
    /// Where.
    #[command(flatten)]
    pub stages: Stages,
}

/// How much a difference asks of parents.
#[derive(Debug, Clone, Copy, PartialEq, Eq, ValueEnum)]
pub enum LevelArg {
    /// Nobody can notice without looking at the markup.
    Patch,
    /// Something is new.
    Minor,
    /// A parent that was right can break.
    Major,
}

impl From<LevelArg> for fidelon_core::compare::Level {
    fn from(level: LevelArg) -> Self {
        match level {
            LevelArg::Patch => Self::Patch,
            LevelArg::Minor => Self::Minor,
            LevelArg::Major => Self::Major,
        }
    }
}
