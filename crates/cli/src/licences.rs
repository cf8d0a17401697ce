//! `fidelon licences`: notices of what the program carries of others' work.

use anyhow::Context as _;

use crate::{exit, setting};

/// Made by `cargo run -p xtask -- licences`.
static NOTICES: &[u8] = include_bytes!("../data/licences.txt.zst");

/// Prints all notices.
pub fn run() -> anyhow::Result<i32> {
    let text = zstd::decode_all(NOTICES).context("the notices cannot be unpacked")?;
    setting::print_data(&String::from_utf8_lossy(&text));
    Ok(exit::HOLDS)
}
