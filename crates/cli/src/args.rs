//! The command line.

mod challenge;
mod compare;
mod serve;

use std::path::PathBuf;

use clap::{Args as ClapArgs, Parser, Subcommand, ValueEnum};

pub use challenge::{Challenge, Most};
pub use compare::Compare;
pub use serve::{Editor, Serve};

/// Renders components alone and tells which of their promises break, and exactly when.
#[derive(Debug, Parser)]
#[command(
    name = "fidelon",
    version,
    about = "Renders components alone and tells which of their promises break, and exactly when.",
    after_help = "Exit codes: 0 every promise holds · 1 some break · 2 the request or a file is wrong · 3 something could not be judged\n\n\
        Start here:\n  fidelon demo                                  a made-up component library, checked\n  fidelon check src                             your own, with no set-up\n  fidelon watch src                             again on every save\n  fidelon serve src                             tried by hand, in your browser\n  fidelon render src/Card.vue --with title=Mug  one component, printed"
)]
pub struct Args {
    /// What to do.
    #[command(subcommand)]
    pub command: Command,
    /// For every command.
    #[command(flatten)]
    pub common: Common,
}

/// The commands.
#[derive(Debug, Subcommand)]
pub enum Command {
    /// Check components: their contracts, and the laws that every component keeps.
    Check(Check),
    /// Check again, at once, what a change touches.
    Watch(Watch),
    /// Render one component in one combination of props and print it.
    Render(Render),
    /// Try components by hand, on a local page in your own browser.
    Serve(Serve),
    /// Serve an editor: findings beside the source as it is typed, over the Language Server Protocol.
    Editor(Editor),
    /// Lay every combination of components side by side, on one page or picture.
    Sheet(Sheet),
    /// Break components on purpose, one fault at a time, and tell which faults their promises do not notice.
    Challenge(Challenge),
    /// Compare two components, or one with an earlier revision: what a parent or a person could notice.
    Compare(Compare),
    /// List components and what they declare: props, events, slots, members.
    Survey(Survey),
    /// Write a first contract of a component from what it declares and what was observed of it.
    Draft(Draft),
    /// Record what components render now as accepted: `check` compares with it.
    Accept(Accept),
    /// Play one case again, step by step.
    Replay(Replay),
    /// Join the results of a run that was split with `check --part`.
    Merge(Merge),
    /// List the laws, or explain one: what it demands, why, an example that breaks it, the fix.
    Explain(Explain),
    /// Unpack a made-up pottery studio's components and check them, offline.
    Demo(Demo),
    /// Print a JSON Schema, by which editors complete and explain contracts.
    Schema(Schema),
    /// Print the licences of all that the program carries of others' work.
    Licences,
    /// Generate shell completions.
    Completions(Completions),
    /// Print the manual page, or write one for each command.
    Manual(Manual),
}

/// Options of every command.
#[derive(Debug, Clone, ClapArgs)]
pub struct Common {
    /// Colour: on a terminal, always, or never. NO_COLOR is heeded.
    #[arg(long, value_enum, default_value = "auto", global = true, value_name = "WHEN")]
    pub color: Color,
    /// Where transforms and compiled modules are kept [default: the user's cache folder].
    #[arg(long, global = true, value_name = "DIR", env = "FIDELON_CACHE")]
    pub cache: Option<PathBuf>,
    /// Keep nothing between runs, and use nothing that was kept, whatever --cache says.
    #[arg(long, global = true)]
    pub no_cache: bool,
    /// What one act of a component may take, a mount or a step with all that follows: a measure of the engine's work, 20 million
    /// steps to the second, the same on every machine and under every load. As `5s` or `250ms`; plain numbers are milliseconds. Loading
    /// may take six times as much, and what counts no steps, a long built-in, four times as much processor time.
    #[arg(long, global = true, default_value = "5s", value_name = "DURATION", value_parser = deadline)]
    pub deadline: u64,
    /// Memory that a component may use, whoever takes it for it: scripts, document, styles, layout; in MiB.
    #[arg(long, global = true, default_value_t = 512, value_name = "MIB", value_parser = clap::value_parser!(u64).range(32..=16_384))]
    pub memory: u64,
}

/// A duration in milliseconds.
fn duration(text: &str) -> Result<f64, String> {
    let number = text.trim_end_matches(|c: char| c.is_ascii_alphabetic());
    let factor = match &text[number.len()..] {
        "" | "ms" => 1.0,
        "s" => 1_000.0,
        "min" => 60_000.0,
        _ => return Err("write it as `5s`, `250ms` or `2min`; plain numbers are milliseconds".into()),
    };
    Ok(number.trim().parse::<f64>().map_err(|_| "write it as `5s`, `250ms` or `2min`")? * factor)
}

/// A deadline in milliseconds.
fn deadline(text: &str) -> Result<u64, String> {
    let milliseconds = duration(text)?;
    if !(10.0..=600_000.0).contains(&milliseconds) {
        return Err("it must lie between 10ms and 10min".into());
    }
    #[allow(clippy::cast_possible_truncation, clippy::cast_sign_loss, reason = "its range was looked at")]
    Ok(milliseconds.round() as u64)
}

/// Where components are played.
#[derive(Debug, Clone, Default, ClapArgs)]
pub struct Stages {
    /// Where components are played: in this program, or in a real browser.
    #[arg(long, value_enum, default_value = "embedded", value_name = "STAGE")]
    pub stage: StageArg,
    /// The WebDriver remote end to drive a browser with: a driver or a grid that runs already, whose browsers reach this machine's
    /// loopback [default: the chromedriver, geckodriver or safaridriver on the PATH, started and ended]. Implies --stage browser.
    #[arg(long, value_name = "URL")]
    pub driver: Option<String>,
    /// How presses, moves and keys are made: as the events that a hand causes, or by the browser's own input, which hits whatever lies
    /// over an element. Real input implies --stage browser and is slower; the list of a select and files stay made.
    #[arg(long, value_enum, default_value = "made", value_name = "INPUT")]
    pub input: InputKind,
}

/// How steps of a person are made.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, ValueEnum)]
pub enum InputKind {
    /// As events, on either stage.
    #[default]
    Made,
    /// By the browser's own input, over WebDriver.
    Real,
}

/// A stage.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, ValueEnum)]
pub enum StageArg {
    /// In this program: no browser is needed.
    #[default]
    Embedded,
    /// In a real browser, over WebDriver.
    Browser,
}

/// When to colour.
#[derive(Debug, Clone, Copy, PartialEq, Eq, ValueEnum)]
pub enum Color {
    /// On a terminal.
    Auto,
    /// Always.
    Always,
    /// Never.
    Never,
}

/// `fidelon survey`
#[derive(Debug, ClapArgs)]
#[command(
    after_help = "What a component declares is read from its source alone: nothing is run. `?` marks what a parent may leave out, `↔` what\n\
    the component reports back. Where the source does not tell a type it says so, and never guesses.\n\n\
    Examples:\n  fidelon survey                          every component below this folder, in short\n  \
    fidelon survey src/KilnDial.vue         one, with types, defaults and comments\n  \
    fidelon survey --json surfaces.json     for machines (`-` for standard output)\n  \
    fidelon survey --manifest custom-elements.json   custom elements, as the Custom Elements Manifest"
)]
pub struct Survey {
    /// Folders and components (`file`, or `file#export` for one of several) [default: this folder].
    pub paths: Vec<PathBuf>,
    /// Tell all that is known of each: types, defaults, comments. So does naming a single file.
    #[arg(long)]
    pub full: bool,
    /// Write what was found as JSON to a file; `-` writes it to standard output in place of the list.
    #[arg(long, value_name = "FILE")]
    pub json: Option<PathBuf>,
    /// Write the custom elements among them as an open Custom Elements Manifest; `-` writes it to standard output in place of the list.
    #[arg(long, value_name = "FILE", conflicts_with = "json")]
    pub manifest: Option<PathBuf>,
}

/// `fidelon draft`
#[derive(Debug, ClapArgs)]
#[command(
    after_help = "The component is rendered in the combinations of its declared props, and each of its controls is used once. What was always so, or so\n\
    under a condition on the props, becomes a clause: which text follows which prop, which press emits what, what stands in which slot.\n\
    The contract holds as it stands. It says what is, not what ought to be: that is for you to confirm or to correct.\n\n\
    Examples:\n  fidelon draft src/KilnDial.vue                        writes src/KilnDial.contract.yaml\n  \
    fidelon draft src/PieceTable.tsx --with 'rows=[{\"id\":1}]'   for a prop whose type the source does not tell\n  \
    fidelon draft src/KilnDial.vue --to -                 prints it"
)]
pub struct Draft {
    /// The component: a file, or `file#export`.
    pub component: String,
    /// A value for a prop, as `render` takes it; several make a list. Needed for required props whose type the source does not tell.
    #[arg(long, value_name = "PROP=VALUE", value_parser = pair)]
    pub with: Vec<(String, String)>,
    /// Where to write it; `-` prints it [default: beside the component]. A file that is there is never overwritten.
    #[arg(long, value_name = "FILE")]
    pub to: Option<PathBuf>,
    /// Where components are played.
    #[command(flatten)]
    pub stages: Stages,
}

/// `fidelon check`
#[derive(Debug, Default, ClapArgs)]
#[command(after_help = "A component is held to the contract that names it (Name.contract.yaml, beside it by default) and to the laws.\n\
    Without a contract the laws alone are checked, on combinations made from the declared types. What was not changed since it was judged\n\
    last is not played again: its results are the same.\n\n\
    Examples:\n  fidelon check                        every component below this folder\n  fidelon check src/KilnDial.vue       one, with the contract beside it\n  \
    fidelon check --html report          a report to open in a browser, with everything rendered\n  \
    fidelon check --format lines         a line a finding, for editors\n  \
    fidelon check --since main           what a branch touches\n  \
    fidelon check --part 2/5 --json part-2.json    then: fidelon merge part-*.json")]
pub struct Check {
    /// Folders, components (`file`, or `file#export` for one of several), contracts [default: this folder].
    pub paths: Vec<PathBuf>,
    /// How many components are judged at once [default: one for each processor].
    #[arg(long, value_name = "N", value_parser = clap::value_parser!(u16).range(1..=256))]
    pub jobs: Option<u16>,
    /// Judge everything anew, also what was not changed since it was judged last.
    #[arg(long)]
    pub fresh: bool,
    /// Play each case in a realm of its own. Slower; for components whose modules remember earlier cases.
    #[arg(long)]
    pub apart: bool,
    /// Only this part of the components: `2/5` is the second of five. `auto` reads number and count that a scheduler set (a Slurm array,
    /// a GitLab parallel job); `auto/5` the number alone (a Kubernetes indexed job). `fidelon merge` joins the results.
    #[arg(long, value_name = "K/N", value_parser = part)]
    pub part: Option<PartArg>,
    /// Only components that reach a file which was changed since this revision, committed or not: `main`, `HEAD~3`. Asks git.
    #[arg(long, value_name = "REV")]
    pub since: Option<String>,
    /// Write what happens to a file as it happens, a line of JSON each: what is to be judged, what is being judged, what was found.
    #[arg(long, value_name = "FILE")]
    pub events: Option<PathBuf>,
    /// Say on standard error what the run did: how many components were unchanged, and how long the others took.
    #[arg(long, short)]
    pub verbose: bool,
    /// How results are written.
    #[command(flatten)]
    pub reports: Reports,
    /// The report for a browser.
    #[command(flatten)]
    pub pages: Pages,
    /// How much is played for the laws beyond the plan itself.
    #[arg(long, value_enum, default_value_t, value_name = "EFFORT")]
    pub effort: Effort,
    /// Play everything on the other kind of stage too, and tell where the two differ: the law stage/agrees.
    #[arg(long)]
    pub confirm: bool,
    /// Where.
    #[command(flatten)]
    pub stages: Stages,
}

/// How results are written.
#[derive(Debug, Default, Clone, ClapArgs)]
pub struct Reports {
    /// What standard output gets: the report for people, a line a finding for editors, or annotations for CI services that read workflow
    /// commands.
    #[arg(long, value_enum, default_value_t, value_name = "FORMAT")]
    pub format: Format,
    /// Write the results as JSON to a file; `-` writes them to standard output in place of the report.
    #[arg(long, value_name = "FILE")]
    pub json: Option<PathBuf>,
    /// Write them as JUnit XML to a file.
    #[arg(long, value_name = "FILE")]
    pub junit: Option<PathBuf>,
    /// Write them as SARIF 2.1.0 to a file.
    #[arg(long, value_name = "FILE")]
    pub sarif: Option<PathBuf>,
}

/// Where the report for a browser goes.
#[derive(Debug, Default, Clone, ClapArgs)]
pub struct Pages {
    /// Write a report to a folder, to be opened in a browser from disk: what holds and breaks, what components declare, every combination
    /// as it was rendered. The folder must be new, empty, or an earlier report.
    #[arg(long, value_name = "DIR")]
    pub html: Option<PathBuf>,
}

/// What standard output gets.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, ValueEnum)]
pub enum Format {
    /// Findings as a person would tell them.
    #[default]
    Report,
    /// `file:line:column: error: …`
    Lines,
    /// `::error file=…`
    Annotations,
}

/// Which part of a run is asked for.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum PartArg {
    /// This one.
    Given(fidelon_run::Portion),
    /// The one that a scheduler set, of so many if it does not say how many there are.
    Auto(Option<usize>),
}

fn part(text: &str) -> Result<PartArg, String> {
    let wrong = || format!("`{text}` is no part: write 2/5, auto or auto/5");
    let number = |n: &str| n.parse::<usize>().ok().filter(|n| (1..=10_000).contains(n)).ok_or_else(wrong);
    match text.split_once('/') {
        None if text == "auto" => Ok(PartArg::Auto(None)),
        None => Err(wrong()),
        Some(("auto", of)) => Ok(PartArg::Auto(Some(number(of)?))),
        Some((n, of)) => {
            let portion = fidelon_run::Portion { number: number(n)?, of: number(of)? };
            if portion.number > portion.of { Err(format!("`{text}`: there is no part {n} of {of}")) } else { Ok(PartArg::Given(portion)) }
        }
    }
}

/// `fidelon watch`
#[derive(Debug, ClapArgs)]
#[command(
    after_help = "Everything is checked once; then, whenever a file is saved, the components that reach it. A component whose contract and laws have much to\n\
    play is told first by a quick look, and again when all is played.\n\n\
    Keys: Enter checks all anew · f shows only components whose name has these words · a accepts output that was accepted before and is\n\
    another one now · r plays the first finding again, step by step · q ends. Without a terminal each is a line on standard input.\n\n\
    Examples:\n  fidelon watch src\n  fidelon watch src/KilnDial.vue"
)]
pub struct Watch {
    /// Folders, components (`file`, or `file#export` for one of several), contracts [default: this folder].
    pub paths: Vec<PathBuf>,
    /// Where components are played.
    #[command(flatten)]
    pub stages: Stages,
}

/// `fidelon sheet`
#[derive(Debug, ClapArgs)]
#[command(
    after_help = "Every combination of the plan as it was rendered, in frames in which nothing runs, with what differs in words below it; those that break\n\
    a promise are marked. The page needs nothing beside it. A picture is drawn by a real browser.\n\n\
    Examples:\n  fidelon sheet src/GlazeBadge.vue\n  fidelon sheet src/GlazeBadge.vue --by finish --across cone\n  \
    fidelon sheet src --to sheet.png       needs a browser and its driver on the PATH"
)]
pub struct Sheet {
    /// Folders, components (`file`, or `file#export` for one of several), contracts [default: this folder].
    pub paths: Vec<PathBuf>,
    /// Props, or slots as `slots.default`, whose values make rows; several are separated by commas.
    #[arg(long, value_name = "PROPS", value_delimiter = ',')]
    pub by: Vec<String>,
    /// Those whose values make columns.
    #[arg(long, value_name = "PROPS", value_delimiter = ',')]
    pub across: Vec<String>,
    /// Where to write it: a page (.html) or a picture (.png).
    #[arg(long, value_name = "FILE", default_value = "sheet.html")]
    pub to: PathBuf,
    /// The width of a picture, in CSS pixels.
    #[arg(long, value_name = "PIXELS", default_value_t = 1280, value_parser = clap::value_parser!(u32).range(320..=8000))]
    pub width: u32,
    /// How much is played for the laws, which mark what breaks.
    #[arg(long, value_enum, default_value_t, value_name = "EFFORT")]
    pub effort: Effort,
    /// Where components are played.
    #[command(flatten)]
    pub stages: Stages,
}

/// `fidelon merge`
#[derive(Debug, ClapArgs)]
#[command(
    after_help = "Joins the JSON results of the parts of one run (`fidelon check --part 2/5 --json FILE`) into what one run would have told. Every part\n\
    must be there once. The exit code is that of the whole.\n\n\
    Examples:\n  fidelon merge part-1.json part-2.json\n  fidelon merge results/*.json --json all.json --junit all.xml"
)]
pub struct Merge {
    /// The results of all parts.
    #[arg(required = true)]
    pub files: Vec<PathBuf>,
    /// How results are written.
    #[command(flatten)]
    pub reports: Reports,
}

/// `fidelon render`
#[derive(Debug, ClapArgs)]
#[command(
    after_help = "What is not given comes from the contract beside the component, else from the declared types: optional props are not passed.\n\n\
    Examples:\n  fidelon render Card.vue --with title=Hello --with 'tags=[\"new\"]'\n  fidelon render Card.tsx --fill 'default=<p>Mug</p>' --as outline\n  \
    fidelon render Buttons.tsx#IconButton --with locked=true\n  \
    fidelon render Dial.vue --do 'press: button \"Raise\"' --do 'type: \"700\", into: spinbutton, replace: true'\n  \
    fidelon render - --as-file src/Card.vue < draft.vue      unsaved text, with what stands around its file"
)]
pub struct Render {
    /// The component: a file, or `file#export`; `-` reads it from standard input, with --as-file.
    pub component: String,
    /// A prop and its value: text, JSON, `js:EXPRESSION`, or `absent`.
    #[arg(long, value_name = "PROP=VALUE", value_parser = pair)]
    pub with: Vec<(String, String)>,
    /// A slot and its HTML.
    #[arg(long, value_name = "SLOT=HTML", value_parser = pair)]
    pub fill: Vec<(String, String)>,
    /// What is done once it is mounted, as the steps of a contract: `press: button "Raise"`. Several are done in turn.
    #[arg(long = "do", value_name = "STEP")]
    pub steps: Vec<String>,
    /// Virtual time that passes in the end: `2s`, `250ms`.
    #[arg(long, value_name = "DURATION", value_parser = elapsed)]
    pub elapse: Option<u32>,
    /// With `-` for the component: the file that standard input is read as. It need not be there; what it imports is found from its place.
    #[arg(long, value_name = "FILE")]
    pub as_file: Option<String>,
    /// How it is printed.
    #[arg(long = "as", value_enum, default_value = "html", value_name = "FORM")]
    pub form: RenderForm,
    /// Where.
    #[command(flatten)]
    pub stages: Stages,
}

/// Virtual time in milliseconds: up to a day.
fn elapsed(text: &str) -> Result<u32, String> {
    let milliseconds = duration(text)?;
    if (0.0..=86_400_000.0).contains(&milliseconds) {
        #[allow(clippy::cast_possible_truncation, clippy::cast_sign_loss, reason = "its range was looked at")]
        Ok(milliseconds.round() as u32)
    } else {
        Err("it must lie between 0 and a day".into())
    }
}

/// How a rendered component is printed.
#[derive(Debug, Clone, Copy, PartialEq, Eq, ValueEnum)]
pub enum RenderForm {
    /// Indented HTML.
    Html,
    /// Exactly the HTML in the document.
    Raw,
    /// Roles, names and values, as a person finds them.
    Outline,
    /// All that was seen.
    Json,
}

/// `fidelon accept`
#[derive(Debug, ClapArgs)]
#[command(
    after_help = "The output of every combination of the plan is written beside the component, as Name.vue.baseline.txt: readable, in a\n\
    stable order, for version control. `fidelon check` compares with it and shows what changed, and when.\n\n\
    Examples:\n  fidelon accept src/KilnDial.vue      one component\n  fidelon accept --known               whatever was accepted before, anew\n  \
    fidelon accept --dry-run             tell what would change, write nothing"
)]
pub struct Accept {
    /// Folders, components (`file`, or `file#export` for one of several), contracts [default: this folder].
    pub paths: Vec<PathBuf>,
    /// Only components of which some output was accepted before.
    #[arg(long)]
    pub known: bool,
    /// Write nothing.
    #[arg(long)]
    pub dry_run: bool,
    /// Where.
    #[command(flatten)]
    pub stages: Stages,
}

/// `fidelon replay`
#[derive(Debug, ClapArgs)]
#[command(after_help = "After the mount and after each step: what came, what the parent holds, and what changed on the page.\n\n\
    Examples:\n  fidelon replay KilnDial@7f3a91                                   as `check` names it\n  \
    fidelon replay KilnDial@7f3a91 src --clause 'a locked dial is inert'")]
pub struct Replay {
    /// The case, as `check` names it: Name@7f3a91.
    pub case: String,
    /// Where its component is: folders, components, contracts [default: this folder].
    pub paths: Vec<PathBuf>,
    /// Which clause to play; else one that breaks in this case, or the mount alone.
    #[arg(long, value_name = "WORDS")]
    pub clause: Option<String>,
    /// Where.
    #[command(flatten)]
    pub stages: Stages,
}

/// `fidelon schema`
#[derive(Debug, ClapArgs)]
#[command(after_help = "Examples:\n  fidelon schema > contract.schema.json\n  then, as the first line of a contract:\n  \
    # yaml-language-server: $schema=./contract.schema.json")]
pub struct Schema {
    /// Of which files.
    #[arg(value_enum, default_value = "contract")]
    pub of: SchemaOf,
}

/// What a schema describes.
#[derive(Debug, Clone, Copy, PartialEq, Eq, ValueEnum)]
pub enum SchemaOf {
    /// Contract files.
    Contract,
    /// The results of `check --json`.
    Results,
}

/// `fidelon demo`
#[derive(Debug, ClapArgs)]
pub struct Demo {
    /// Where to unpack it.
    #[arg(default_value = "kiln-studio")]
    pub dir: PathBuf,
    /// Be the studio's server instead, on this port of loopback (0 takes a free one), until it is ended: pages that it renders itself, for
    /// contracts with `component: http://127.0.0.1:PORT/pieces`.
    #[arg(long, value_name = "PORT")]
    pub server: Option<u16>,
}

fn pair(text: &str) -> Result<(String, String), String> {
    text.split_once('=')
        .filter(|(name, _)| !name.is_empty())
        .map(|(name, value)| (name.to_owned(), value.to_owned()))
        .ok_or_else(|| format!("`{text}` is no pair: write NAME=VALUE"))
}

/// `fidelon completions`
#[derive(Debug, ClapArgs)]
#[command(
    after_help = "Examples:\n  fidelon completions bash > ~/.local/share/bash-completion/completions/fidelon\n  fidelon completions fish > ~/.config/fish/completions/fidelon.fish"
)]
pub struct Completions {
    /// The shell.
    #[arg(value_enum)]
    pub shell: clap_complete::Shell,
}

/// `fidelon manual`
#[derive(Debug, ClapArgs)]
#[command(after_help = "Examples:\n  fidelon manual | man -l -\n  fidelon manual ~/.local/share/man/man1")]
pub struct Manual {
    /// A folder for one page a command; without it the page of the program is printed.
    pub dir: Option<PathBuf>,
}

/// `fidelon explain`.
#[derive(Debug, ClapArgs)]
pub struct Explain {
    /// The law, as `prop/live`; all of them when none is named.
    pub law: Option<String>,
    /// Shows what breaks it in this framework alone: vue, react, svelte, angular, solid, preact, elements.
    #[arg(long = "in", value_name = "FRAMEWORK", requires = "law")]
    pub framework: Option<String>,
}

/// How much is played for the laws.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, ValueEnum)]
pub enum Effort {
    /// A few combinations for each law.
    Quick,
    /// Enough for most faults.
    #[default]
    Normal,
    /// Every combination for every law.
    Thorough,
}

impl From<Effort> for fidelon_run::Effort {
    fn from(effort: Effort) -> Self {
        match effort {
            Effort::Quick => Self::Quick,
            Effort::Normal => Self::Normal,
            Effort::Thorough => Self::Thorough,
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_deadline_has_a_unit_or_is_in_milliseconds() {
        for (text, milliseconds) in [("5s", 5_000), ("5000", 5_000), ("250ms", 250), ("1.5s", 1_500), ("2min", 120_000), ("10", 10)] {
            assert_eq!(deadline(text), Ok(milliseconds), "{text}");
        }
        for text in ["", "s", "5h", "5 s s", "-1s", "9ms", "11min", "NaN"] {
            assert!(deadline(text).is_err(), "{text}");
        }
    }
}
