//! The command lines of what serves until it is ended: `fidelon serve`, `fidelon editor`.

use std::path::PathBuf;

use clap::Args as ClapArgs;

/// `fidelon serve`
#[derive(Debug, ClapArgs)]
#[command(
    after_help = "The page lists the components, gives each a control for every declared prop and slot, shows what it emits and what the parent holds, and\n\
    what breaks beside it. It follows every save. A combination can be kept as a clause of the contract. Only this machine reaches it, by\n\
    an address that nobody can guess.\n\n\
    Examples:\n  fidelon serve src\n  fidelon serve --port 0        takes a free port"
)]
pub struct Serve {
    /// Folders, components (`file`, or `file#export` for one of several), contracts [default: this folder].
    pub paths: Vec<PathBuf>,
    /// The port on loopback; 0 takes a free one.
    #[arg(long, value_name = "PORT", default_value_t = 7714)]
    pub port: u16,
}

/// `fidelon editor`
#[derive(Debug, ClapArgs)]
#[command(
    after_help = "An editor starts it and speaks with it over standard input and output. What is open is judged as it is typed, saved or not: what breaks\n\
    stands at its line, with its cause; above each component and clause stands how it was judged; contracts are completed by the names that\n\
    their components have. docs/editor.md has the lines for the usual editors."
)]
pub struct Editor {}
