//! `fidelon serve`

use std::path::PathBuf;

use fidelon_run::Request;

use crate::args::{Common, Serve};
use crate::{exit, setting};

/// Serves until it is ended.
pub fn run(args: &Serve, common: &Common) -> anyhow::Result<i32> {
    let root = setting::root()?;
    let paths = if args.paths.is_empty() { vec![PathBuf::from(".")] } else { args.paths.clone() };
    let request = Request::new(root.clone(), paths, setting::stage(&root, &crate::args::Stages::default(), common));
    let ready = |address: &str| {
        setting::note("Open this address in a browser; Ctrl+C ends it:");
        setting::print(&format!("{address}\n"));
    };
    fidelon_serve::serve(request, args.port, &ready)?;
    Ok(exit::HOLDS)
}
