//! What can go wrong while scripts run.

/// A value that a script threw and nobody caught.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Thrown {
    /// `TypeError: x is undefined`, or the value as text.
    pub message: String,
    /// The engine's stack, one frame a line; empty when the value was no error.
    pub stack: String,
}

impl std::fmt::Display for Thrown {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        f.write_str(&self.message)
    }
}

/// Why the engine could not do what was asked. All but `Thrown` leave the realm unusable.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
pub enum EngineError {
    /// A script threw.
    #[error("{0}")]
    Thrown(Thrown),
    /// More steps than the deadline stands for.
    #[error("it did not come to an end within {steps} steps of the engine")]
    Deadline {
        /// How many were allowed.
        steps: u64,
        /// The deadline in milliseconds.
        deadline: u64,
    },
    /// The memory limit was reached.
    #[error("it needed more than {0} MiB of memory")]
    Memory(usize),
    /// The engine itself failed.
    #[error("the engine failed: {0}")]
    Engine(String),
}

impl EngineError {
    /// True when the realm must not be used any more.
    pub fn is_fatal(&self) -> bool {
        !matches!(self, Self::Thrown(_))
    }
}
