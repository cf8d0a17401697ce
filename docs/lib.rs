//! What the program prints of its own documentation.

/// The chapter on laws: a section for each, in the order of their table.
pub const LAWS: &str = include_str!("laws.md");

/// The JSON Schema of contracts.
pub const CONTRACT_SCHEMA: &str = include_str!("contract.schema.json");

/// The JSON Schema of results.
pub const RESULTS_SCHEMA: &str = include_str!("results.schema.json");
