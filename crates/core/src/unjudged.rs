//! Why there is no verdict: which limit was reached, or how a stage was lost, what the component was doing, and with which props.
//!
//! Who decides by it asks for the cause; the texts are for people alone.

use serde::{Deserialize, Serialize};

/// What was reached or lost.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, thiserror::Error)]
pub enum UnjudgedCause {
    /// The engine counted more steps (calls and turns of loops) than the deadline stands for.
    #[error(
        "did not come to an end within {} steps of the engine (calls and turns of loops), as many as a deadline of {} allows: `--deadline` raises it",
        in_millions(*.steps),
        duration(*.deadline)
    )]
    Deadline {
        /// So many steps were allowed.
        steps: u64,
        /// The deadline that they were worked out from, in milliseconds.
        deadline: u64,
    },
    /// One call of the engine or of a compiler, in which no step is counted, took too much of the processor.
    #[error("took more than {} of processor time: `--deadline` raises the limit", duration(*.0))]
    Processor(
        /// Allowed, in milliseconds.
        u64,
    ),
    /// The memory limit was reached.
    #[error("needed more than {0} MiB of memory: `--memory` raises the limit")]
    Memory(
        /// The limit in MiB.
        usize,
    ),
    /// The process that played it ended.
    #[error("ended the process that it ran in ({0})")]
    Crashed(
        /// How.
        String,
    ),
    /// A fault of this program.
    #[error("met a fault of Fidelon itself, please report it: {0}")]
    Fault(
        /// Message and place.
        String,
    ),
    /// The stage is gone: a browser, its driver, a process that cannot be started.
    #[error("{0}")]
    StageLost(
        /// Why.
        String,
    ),
    /// A stage gave an answer that makes no sense.
    #[error("{0}")]
    Protocol(
        /// What.
        String,
    ),
}

impl UnjudgedCause {
    /// True where the component itself used up what it was allowed, or broke what it ran in: with other props it may not.
    pub fn is_of_component(&self) -> bool {
        matches!(self, Self::Deadline { .. } | Self::Processor(_) | Self::Memory(_) | Self::Crashed(_) | Self::Fault(_))
    }
}

/// Why there is no verdict.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub struct Unjudged {
    /// What was reached or lost.
    pub cause: UnjudgedCause,
    /// What the component was doing: `mounting it`, `compiling src/Kiln.vue`; empty where that says nothing.
    #[serde(default)]
    pub doing: String,
    /// With which props, in words.
    #[serde(default)]
    pub with: Option<String>,
}

impl From<UnjudgedCause> for Unjudged {
    fn from(cause: UnjudgedCause) -> Self {
        Self { cause, doing: String::new(), with: None }
    }
}

impl Unjudged {
    /// The same, with what the component was doing, unless that is known.
    #[must_use]
    pub fn while_doing(mut self, doing: &str) -> Self {
        if self.doing.is_empty() {
            doing.clone_into(&mut self.doing);
        }
        self
    }

    /// The same, with the props that were passed.
    #[must_use]
    pub fn with(self, props: String) -> Self {
        Self { with: Some(props), ..self }
    }
}

impl std::fmt::Display for Unjudged {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        match (&self.cause, self.doing.as_str()) {
            (UnjudgedCause::StageLost(_) | UnjudgedCause::Protocol(_), "") => {}
            (UnjudgedCause::StageLost(_) | UnjudgedCause::Protocol(_), doing) => write!(f, "{doing}: ")?,
            (_, "") => f.write_str("it ")?,
            (_, doing) => write!(f, "{doing} ")?,
        }
        write!(f, "{}", self.cause)?;
        self.with.as_ref().map_or(Ok(()), |with| write!(f, " (with {with})"))
    }
}

/// `100 million`, `600 thousand`.
fn in_millions(steps: u64) -> String {
    match steps {
        0..=999 => steps.to_string(),
        1_000..=999_999 => format!("{} thousand", steps / 1_000),
        _ => format!("{} million", steps / 1_000_000),
    }
}

/// A duration in milliseconds as everywhere else: `5s`, `250ms`.
fn duration(milliseconds: u64) -> String {
    if milliseconds > 0 && milliseconds.is_multiple_of(1_000) { format!("{}s", milliseconds / 1_000) } else { format!("{milliseconds}ms") }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_was_reached_is_told_with_what_it_was_at() {
        let deadline = UnjudgedCause::Deadline { steps: 100_000_000, deadline: 5_000 };
        let told = Unjudged::from(deadline).while_doing("mounting it").while_doing("loading it").with("total = 10000".into());
        assert_eq!(
            told.to_string(),
            "mounting it did not come to an end within 100 million steps of the engine (calls and turns of loops), as many as a deadline of 5s allows: `--deadline` raises it (with total = 10000)"
        );
        for (cause, text) in [
            (UnjudgedCause::Memory(128), "it needed more than 128 MiB of memory: `--memory` raises the limit"),
            (UnjudgedCause::Processor(1_500), "it took more than 1500ms of processor time: `--deadline` raises the limit"),
            (UnjudgedCause::StageLost("the browser is gone".into()), "the browser is gone"),
        ] {
            assert_eq!(Unjudged::from(cause).to_string(), text);
        }
    }
}
