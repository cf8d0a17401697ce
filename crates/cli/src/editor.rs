//! `fidelon editor`

use std::io::IsTerminal as _;
use std::path::PathBuf;

use anyhow::bail;
use fidelon_run::Request;

use crate::args::{Common, Stages};
use crate::{exit, setting};

/// Serves the editor that started it until that says it is done, or is gone.
pub fn run(common: &Common) -> anyhow::Result<i32> {
    if std::io::stdin().is_terminal() {
        bail!("an editor starts this and speaks the Language Server Protocol with it: docs/editor.md tells how. By hand: `fidelon watch`");
    }
    let common = common.clone();
    let request = move |root: PathBuf, paths| {
        let stage = setting::stage(&root, &Stages::default(), &common);
        Request::new(root, paths, stage)
    };
    fidelon_editor::serve(Box::new(request))?;
    Ok(exit::HOLDS)
}
