//! What is wrong with a contract: data, to be printed elsewhere. All faults of a file are collected.

use fidelon_source::Span;
use serde::{Deserialize, Serialize};

use crate::locator::nearest;

/// A fault in a contract.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub struct Fault {
    /// What is wrong.
    pub message: String,
    /// The text at fault.
    pub span: Span,
    /// What to do about it.
    pub help: Option<String>,
    /// The text that was meant, where it can be told: it takes the place of the one at fault.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub instead: Option<String>,
}

impl Fault {
    /// A fault without advice.
    pub fn new(span: Span, message: impl Into<String>) -> Self {
        Self { message: message.into(), span, help: None, instead: None }
    }

    /// Adds advice.
    #[must_use]
    pub fn help(mut self, help: impl Into<String>) -> Self {
        self.help = Some(help.into());
        self
    }

    /// A name that is not known where these are.
    pub fn unknown(span: Span, what: &str, name: &str, known: &[&str]) -> Self {
        let fault = Self::new(span, format!("`{name}` is no {what}"));
        match nearest(name, known.iter().copied()) {
            Some(near) => Self { instead: Some(near.to_owned()), ..fault.help(format!("did you mean `{near}`?")) },
            None if known.is_empty() => fault.help(format!("there is no {what} here")),
            None => fault.help(format!("known here: {}", known.join(", "))),
        }
    }

    /// A value of the wrong kind.
    pub fn kind(span: Span, key: &str, wanted: &str, found: &str) -> Self {
        Self::new(span, format!("`{key}` needs {wanted}, and this is {found}"))
    }
}
