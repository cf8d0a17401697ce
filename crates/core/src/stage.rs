//! Where components run: what is asked of a stage. Everything that passes is plain data.

use indexmap::IndexMap;
use serde::{Deserialize, Serialize};

use crate::locator::Locator;
use crate::observation::Observation;
use crate::scene::Scene;
use crate::surface::Declared;
use crate::unjudged::{Unjudged, UnjudgedCause};
use crate::value::Value;

/// A mount that takes more than this, in steps of the engine, is costly: an instance stays for the cases that follow, and a plan is not played in
/// a realm for each case.
pub const COSTLY_MOUNT: u64 = 2_000_000;

/// Prop values and slot contents for one mount.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
pub struct Combination {
    /// Values by prop name, in the order of the plan.
    pub props: IndexMap<String, Value>,
    /// HTML by slot name; none where the slot is left empty.
    pub fills: IndexMap<String, Option<String>>,
}

impl Combination {
    /// This combination with another laid over it.
    pub fn with(&self, over: &Self) -> Self {
        let mut out = self.clone();
        out.props.extend(over.props.iter().map(|(k, v)| (k.clone(), v.clone())));
        out.fills.extend(over.fills.iter().map(|(k, v)| (k.clone(), v.clone())));
        out
    }

    /// A short name that stays the same from run to run: 24 bits of FNV-1a over what it holds.
    pub fn tag(&self) -> String {
        let text = serde_json::to_string(self).unwrap_or_default();
        let hash = text.bytes().fold(0x811c_9dc5u32, |h, b| (h ^ u32::from(b)).wrapping_mul(0x0100_0193));
        format!("{:06x}", (hash >> 8) ^ (hash & 0xff))
    }

    /// In words: `unit = "F", locked = true`; what is absent or empty is left out.
    pub fn in_words(&self) -> String {
        let props = self.props.iter().filter(|(_, v)| **v != Value::Absent).map(|(k, v)| format!("{k} = {v}"));
        let fills = self.fills.iter().filter_map(|(k, v)| v.as_ref().map(|v| format!("slot {k} = `{v}`")));
        let all: Vec<_> = props.chain(fills).collect();
        if all.is_empty() { "nothing passed".into() } else { all.join(", ") }
    }
}

/// One step of a clause.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(tag = "step", rename_all = "snake_case")]
pub enum Step {
    /// A full click.
    Press {
        /// What is pressed.
        at: Locator,
        /// How often.
        times: u32,
    },
    /// Text, key by key.
    Type {
        /// The text.
        text: String,
        /// The field.
        at: Locator,
        /// Clears it first.
        replace: bool,
    },
    /// One key: `Enter`, `Control+a`.
    Key {
        /// The key.
        key: String,
        /// Where; else at what has the focus.
        at: Option<Locator>,
    },
    /// An option by its text or value.
    Choose {
        /// The option.
        option: String,
        /// The select, radio group or listbox.
        at: Locator,
    },
    /// A checkbox or switch.
    Tick {
        /// The control.
        at: Locator,
        /// On or off.
        on: bool,
    },
    /// Focus.
    Focus {
        /// What takes it.
        at: Locator,
    },
    /// Blur.
    Leave {
        /// What loses it.
        at: Locator,
    },
    /// Hover.
    Point {
        /// What the pointer enters.
        at: Locator,
    },
    /// A DOM event, raw.
    Signal {
        /// The event's type.
        event: String,
        /// Its target.
        at: Locator,
        /// Its `detail`.
        detail: Value,
    },
    /// The parent passes new props.
    Pass {
        /// The props.
        props: IndexMap<String, Value>,
    },
    /// The parent changes its side of a binding.
    Assign {
        /// The props.
        props: IndexMap<String, Value>,
    },
    /// The parent passes new slot content.
    Fill {
        /// HTML by slot; none empties it.
        fills: IndexMap<String, Option<String>>,
    },
    /// A member, through the ref.
    Call {
        /// The member.
        member: String,
        /// Its arguments.
        with: Vec<Value>,
        /// What it must give.
        gives: Option<Value>,
    },
    /// Virtual time passes.
    Elapse {
        /// How much.
        milliseconds: u32,
    },
    /// Files, into a file input or onto a drop target.
    Drop {
        /// The files.
        files: Vec<DroppedFile>,
        /// Where.
        at: Locator,
    },
    /// A scroll position.
    Scroll {
        /// What is scrolled; the page when it is not said.
        at: Option<Locator>,
        /// How far from its left edge, in pixels.
        left: f64,
        /// How far from its top.
        top: f64,
    },
    /// Another size of the window.
    Resize {
        /// In CSS pixels.
        width: u32,
        /// In CSS pixels.
        height: u32,
    },
    /// A control is brought to a value in the way that fits it: typed, ticked or chosen.
    Edit {
        /// The control.
        at: Locator,
        /// The value.
        to: Value,
    },
    /// Unmount.
    Remove,
    /// Mounts it once more: beside itself while it is there.
    Again,
    /// The parent renders with other callbacks than before, that do the same: what still reaches the old ones is told as a stray.
    Relisten,
    /// The framework renders all of it anew, though nothing that it is told of has changed.
    Refresh,
    /// A step in one part of a scene.
    In {
        /// The part.
        part: String,
        /// The step.
        inner: Box<Step>,
    },
}

impl Step {
    /// The same step of a person at what another locator means.
    #[must_use]
    pub fn aimed(self, at: &Locator) -> Self {
        let at = at.clone();
        match self {
            Self::Press { times, .. } => Self::Press { at, times },
            Self::Type { text, replace, .. } => Self::Type { text, at, replace },
            Self::Key { key, .. } => Self::Key { key, at: Some(at) },
            Self::Choose { option, .. } => Self::Choose { option, at },
            other => other,
        }
    }

    /// The locators in it.
    pub fn locators(&self) -> Vec<&Locator> {
        match self {
            Self::Press { at, .. }
            | Self::Type { at, .. }
            | Self::Choose { at, .. }
            | Self::Tick { at, .. }
            | Self::Focus { at }
            | Self::Leave { at }
            | Self::Point { at }
            | Self::Signal { at, .. }
            | Self::Drop { at, .. }
            | Self::Edit { at, .. } => vec![at],
            Self::Key { at, .. } | Self::Scroll { at, .. } => at.iter().collect(),
            Self::In { inner, .. } => inner.locators(),
            Self::Pass { .. }
            | Self::Assign { .. }
            | Self::Fill { .. }
            | Self::Call { .. }
            | Self::Elapse { .. }
            | Self::Resize { .. }
            | Self::Remove
            | Self::Again
            | Self::Relisten
            | Self::Refresh => Vec::new(),
        }
    }
}

impl std::fmt::Display for Step {
    /// In the words of a contract: `press button "Raise"`, `pass target = 600`.
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        let listed = |props: &IndexMap<String, Value>| props.iter().map(|(k, v)| format!("{k} = {v}")).collect::<Vec<_>>().join(", ");
        match self {
            Self::Press { at, times: 1 } => write!(f, "press {}", at.written),
            Self::Press { at, times } => write!(f, "press {} {times} times", at.written),
            Self::Type { text, at, .. } => write!(f, "type {text:?} into {}", at.written),
            Self::Key { key, at: Some(at) } => write!(f, "key {key} at {}", at.written),
            Self::Key { key, at: None } => write!(f, "key {key}"),
            Self::Choose { option, at } => write!(f, "choose {option:?} from {}", at.written),
            Self::Tick { at, on } => write!(f, "{} {}", if *on { "tick" } else { "untick" }, at.written),
            Self::Focus { at } => write!(f, "focus {}", at.written),
            Self::Leave { at } => write!(f, "leave {}", at.written),
            Self::Point { at } => write!(f, "point {}", at.written),
            Self::Signal { event, at, .. } => write!(f, "signal {event} at {}", at.written),
            Self::Pass { props } => write!(f, "pass {}", listed(props)),
            Self::Assign { props } => write!(f, "assign {}", listed(props)),
            Self::Fill { fills } => {
                let words = |(slot, html): (&String, &Option<String>)| format!("{slot} = {}", html.as_deref().unwrap_or("absent"));
                write!(f, "fill {}", fills.iter().map(words).collect::<Vec<_>>().join(", "))
            }
            Self::Call { member, with, .. } => {
                write!(f, "call {member}({})", with.iter().map(ToString::to_string).collect::<Vec<_>>().join(", "))
            }
            Self::Elapse { milliseconds } => write!(f, "elapse {milliseconds}ms"),
            Self::Drop { files, at } => {
                write!(f, "drop {} onto {}", files.iter().map(|d| d.name.as_str()).collect::<Vec<_>>().join(", "), at.written)
            }
            Self::Scroll { at, left, top } => write!(f, "scroll {} to {left}, {top}", at.as_ref().map_or("page", |a| &a.written)),
            Self::Resize { width, height } => write!(f, "resize to {width} × {height}"),
            Self::Edit { at, to } => write!(f, "edit {} to {to}", at.written),
            Self::Remove => f.write_str("remove"),
            Self::Again => f.write_str("mount once more"),
            Self::Relisten => f.write_str("pass new callbacks"),
            Self::Refresh => f.write_str("render it anew"),
            Self::In { part, inner } => write!(f, "{inner} (part {part})"),
        }
    }
}

/// A file that a person drops.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub struct DroppedFile {
    /// Its name.
    pub name: String,
    /// Its media type.
    #[serde(rename = "type")]
    pub media: String,
    /// What is in it.
    pub text: String,
}

/// How the parent answers a binding.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[serde(rename_all = "lowercase")]
pub enum Parent {
    /// It writes back what is reported.
    #[default]
    Obeys,
    /// It holds on to its value.
    Keeps,
}

/// What is to be played: a mount, then phases of steps. What is seen after each phase comes back; the mount itself is
/// the first phase, with no steps.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Script {
    /// What is passed at the mount.
    pub combination: Combination,
    /// How the parent answers.
    pub parent: Parent,
    /// The phases.
    pub phases: Vec<Vec<Step>>,
    /// Seeds chance.
    pub seed: i32,
    /// What is around the component.
    pub surroundings: Environment,
}

/// What a session is asked to mount.
#[derive(Debug, Serialize)]
pub struct Mounting<'a> {
    combination: Wanted<'a>,
    /// All props, where JSON says them as they are: nothing is left to make of them then.
    #[serde(skip_serializing_if = "Option::is_none")]
    plain: Option<IndexMap<&'a str, &'a serde_json::Value>>,
    parent: Parent,
    network: Option<&'a Vec<Canned>>,
}

#[derive(Debug, Serialize)]
struct Wanted<'a> {
    props: Option<&'a IndexMap<String, Value>>,
    fills: &'a IndexMap<String, Option<String>>,
}

impl<'a> Mounting<'a> {
    /// The mount of a script.
    pub fn of(script: &'a Script) -> Self {
        let Combination { props, fills } = &script.combination;
        let there = props.iter().filter(|(_, value)| **value != Value::Absent);
        let plain: Option<IndexMap<_, _>> = there.map(|(name, value)| Some((name.as_str(), value.as_json()?))).collect();
        let props = plain.is_none().then_some(props);
        Self { combination: Wanted { props, fills }, plain, parent: script.parent, network: script.surroundings.network.as_ref() }
    }
}

/// What is around a component: the time, and what requests are answered with.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
pub struct Environment {
    /// When the virtual clock starts, in milliseconds since 1970; the stage's own time when it is not said.
    pub clock: Option<i64>,
    /// Canned replies, the first that matches answers; none where no network is told of, and every request fails.
    pub network: Option<Vec<Canned>>,
}

/// A canned reply.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Canned {
    /// `GET`; `WS` of a socket, `EVENTS` of a source of events.
    pub method: String,
    /// A path, or a whole address elsewhere; `*` stands for anything.
    pub path: String,
    /// What comes back, in turn; the last one again and again. Of a connection the one that opens it, or does not.
    pub replies: Vec<Reply>,
    /// What the server says over a connection.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub messages: Vec<FeedMessage>,
}

/// What a server says over a connection by itself.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize)]
pub struct FeedMessage {
    /// Its text.
    pub text: String,
    /// The kind of an event, where it is no plain message.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub event: Option<String>,
    /// The id of an event.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub id: Option<String>,
    /// Ends the connection with this code instead of saying anything.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub close: Option<u16>,
    /// After so many milliseconds of virtual time from the opening on.
    pub after: u32,
}

/// What comes back of a request.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Reply {
    /// The status.
    pub status: u16,
    /// The headers.
    pub headers: IndexMap<String, String>,
    /// The body.
    pub text: String,
    /// True when the connection fails instead.
    pub fail: bool,
    /// After so many milliseconds of virtual time.
    pub after: u32,
}

/// Why a stage could not play a script.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub enum StageError {
    /// A file is wrong: it cannot be loaded.
    File {
        /// What is wrong and what to do.
        message: String,
        /// Where.
        place: Option<fidelon_source::Place>,
    },
    /// A limit was hit or the stage was lost.
    Unjudged(Unjudged),
    /// It was not played: what was asked for would take more than whoever asks may spend.
    Spent,
}

impl StageError {
    /// A stage that was lost, and why.
    pub fn lost(why: impl Into<String>) -> Self {
        Self::Unjudged(Unjudged::from(UnjudgedCause::StageLost(why.into())))
    }

    /// An answer of a stage that makes no sense.
    pub fn protocol(what: impl Into<String>) -> Self {
        Self::Unjudged(Unjudged::from(UnjudgedCause::Protocol(what.into())))
    }
}

impl std::fmt::Display for StageError {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        match self {
            Self::File { message, .. } => f.write_str(message),
            Self::Unjudged(unjudged) => unjudged.fmt(f),
            Self::Spent => f.write_str("it costs more to play than it may: `--effort thorough` plays all"),
        }
    }
}

impl std::error::Error for StageError {
    fn source(&self) -> Option<&(dyn std::error::Error + 'static)> {
        match self {
            Self::File { .. } | Self::Spent => None,
            Self::Unjudged(unjudged) => Some(&unjudged.cause),
        }
    }
}

/// Where components run.
pub trait Stage {
    /// Makes a scene ready to be played; opening another one closes it.
    ///
    /// # Errors
    /// [`StageError`] when it cannot be loaded.
    fn open(&mut self, scene: &Scene) -> Result<Opened, StageError>;
    /// Plays a script with the opened scene, from a clean page.
    ///
    /// # Errors
    /// [`StageError`] when it could not be played to its end. What the component itself threw is part of the observation.
    fn play(&mut self, script: &Script) -> Result<Observation, StageError>;
    /// Plays several scripts, each from a clean page.
    fn play_all(&mut self, scripts: &[Script]) -> Vec<Result<Observation, StageError>> {
        scripts.iter().map(|script| self.play(script)).collect()
    }
    /// Whether the stage is so far away that many scripts at once are quicker than one by one.
    fn is_far(&self) -> bool {
        false
    }
    /// What the opened scene was made from so far; none where nobody can tell all of it.
    fn reached(&mut self) -> Option<Dependencies> {
        None
    }
    /// From now on these files have other texts than on the disk, and all others are as they are there. What is on the stage is taken off.
    ///
    /// # Errors
    /// Where a stage reads its files itself.
    fn edit(&mut self, _edits: &[Edit]) -> Result<(), StageError> {
        Err(StageError::protocol("this stage plays files as they lie on the disk"))
    }
    /// The next script is played where nothing of the opened scene was played before: its modules are loaded anew.
    fn renew(&mut self);
}

/// A file with another text than on the disk.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub struct Edit {
    /// Its path, from the project's folder.
    pub file: String,
    /// Its text.
    pub text: String,
}

/// What the modules of a scene were made from: what came of it counts as long as all of this is the same.
#[derive(Debug, Clone, PartialEq, Eq, Default, Serialize, Deserialize)]
pub struct Dependencies {
    /// Files, each with the hash of its content.
    pub files: Vec<(String, String)>,
    /// What imports led to, those within a package left out.
    pub led: Vec<ResolvedImport>,
}

/// What an import led to.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub struct ResolvedImport {
    /// The file that it stands in, or the manifest of its package.
    pub from: String,
    /// As it is written.
    pub specifier: String,
    /// Whether it is a `require`.
    pub required: bool,
    /// The file.
    pub to: String,
}

/// What a stage knows of a scene that lies ready.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
#[serde(default)]
pub struct Opened {
    /// The values of its modules, as plain data.
    pub values: IndexMap<String, Value>,
    /// What the framework of each part knows of it.
    pub declared: Vec<Option<Declared>>,
}

/// Evaluates the expressions of contracts: ECMAScript that sees one combination and nothing else.
pub trait Expressions {
    /// The values that stand for [`Value::From`] from now on.
    fn know(&mut self, values: IndexMap<String, Value>);
    /// The value of an expression where these names are known.
    ///
    /// # Errors
    /// What the engine says of the expression.
    fn evaluate(&mut self, expression: &str, scope: &IndexMap<String, Value>) -> Result<Value, String>;
    /// Whether the text is an expression at all.
    ///
    /// # Errors
    /// The syntax error.
    fn parse(&mut self, expression: &str) -> Result<(), String>;
}
