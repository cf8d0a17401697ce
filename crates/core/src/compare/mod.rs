//! Whether one component can take another's place: what a parent or a person could notice, and how much it asks of a parent that was right.
//!
//! | module | subject |
//! |---|---|
//! | [`pairing`] | which prop, event, slot and member of the one is which of the other |
//! | [`declared`] | what the two declare |
//! | [`types`] | whether a type takes more or less than another |
//! | [`seen`] | what was seen of the two |

pub mod declared;
pub mod pairing;
pub mod seen;
pub mod types;

use serde::{Deserialize, Serialize};

use crate::results::Reason;

/// How much a difference asks of parents.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
#[serde(rename_all = "lowercase")]
pub enum Level {
    /// Nobody can notice without looking at the markup.
    Patch,
    /// Something is new; what was there is as it was.
    Minor,
    /// A parent that was right can break.
    Major,
}

impl std::fmt::Display for Level {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        f.write_str(match self {
            Self::Patch => "patch",
            Self::Minor => "minor",
            Self::Major => "major",
        })
    }
}

/// What a difference is about.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Area {
    /// Props, events, slots and members as they are declared.
    Surface,
    /// What is rendered: markup, roles, names, texts, values, focus.
    Rendering,
    /// Events: which, how often, with what, in which order.
    Events,
    /// What the parent holds of two-way props, what a ref reaches, what slots hand over.
    Parent,
    /// What can be done at all.
    Steps,
    /// Requests that are made.
    Requests,
    /// What is warned of.
    Warnings,
    /// What is thrown.
    Errors,
    /// Whether and when it comes to rest.
    Timing,
    /// What is left when it is removed.
    Leftovers,
}

impl Area {
    /// In words.
    pub fn words(self) -> &'static str {
        match self {
            Self::Surface => "surface",
            Self::Rendering => "rendering",
            Self::Events => "events",
            Self::Parent => "what the parent holds",
            Self::Steps => "what can be done",
            Self::Requests => "requests",
            Self::Warnings => "warnings",
            Self::Errors => "errors",
            Self::Timing => "timing",
            Self::Leftovers => "what is left behind",
        }
    }
}

/// One difference.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Difference {
    /// How much it asks of parents.
    pub level: Level,
    /// What it is about.
    pub area: Area,
    /// In words; a line for a changelog.
    pub message: String,
    /// Exactly when it is there, in words; none for what is declared, and where no simple condition tells.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub when: Option<String>,
    /// The plainest case that shows it.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub case: Option<String>,
    /// In so many cases it was there …
    #[serde(default)]
    pub differed: usize,
    /// … of so many that were looked at.
    #[serde(default)]
    pub looked: usize,
    /// What the first shows.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub before: Option<String>,
    /// What the second shows.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub after: Option<String>,
    /// The lines in which documents differ.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub diff: Vec<String>,
}

impl Difference {
    /// A difference of what is declared.
    pub fn of_surface(level: Level, message: String) -> Self {
        Self {
            level,
            area: Area::Surface,
            message,
            when: None,
            case: None,
            differed: 0,
            looked: 0,
            before: None,
            after: None,
            diff: Vec::new(),
        }
    }
}

/// Two components, compared.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct ComparedPair {
    /// The first; none where only the second is there.
    pub before: Option<String>,
    /// The second; none where only the first is there.
    pub after: Option<String>,
    /// Why they could not be compared.
    pub reason: Option<Reason>,
    /// The largest of the differences; none where nobody can tell the two apart.
    pub level: Option<Level>,
    /// Combinations that both were played in.
    pub combinations: usize,
    /// Scripts that were played of both.
    pub plays: usize,
    /// The differences, the largest first.
    pub differences: Vec<Difference>,
    /// What the person should know besides.
    pub notes: Vec<String>,
}

impl ComparedPair {
    /// A pair of which nothing is known yet.
    pub fn new(before: Option<String>, after: Option<String>) -> Self {
        Self { before, after, reason: None, level: None, combinations: 0, plays: 0, differences: Vec::new(), notes: Vec::new() }
    }

    /// Sorts the differences, and takes their largest level.
    #[must_use]
    pub fn sorted(mut self) -> Self {
        self.differences.sort_by(|a, b| b.level.cmp(&a.level).then(a.area.cmp(&b.area)));
        self.level = self.differences.iter().map(|d| d.level).max();
        self
    }
}

/// All that came of a comparison.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
pub struct CompareResults {
    /// The version of the tool.
    pub fidelon: String,
    /// The version of this form.
    pub format: u32,
    /// The largest level of all pairs; none where nobody can tell the two sides apart.
    pub level: Option<Level>,
    /// The pairs.
    pub pairs: Vec<ComparedPair>,
}
