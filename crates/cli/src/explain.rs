//! `fidelon explain`: the laws, and one of them with an example.

use fidelon_core::judge::laws::LAWS;
use fidelon_core::locator::nearest;
use fidelon_report::explained;

use crate::args::{Common, Explain};
use crate::{demo, exit, setting};

/// Runs the command; gives the exit code.
pub fn run(args: &Explain, common: &Common) -> anyhow::Result<i32> {
    let style = setting::style(common);
    let Some(name) = &args.law else {
        setting::print(&explained::list(style));
        return Ok(exit::HOLDS);
    };
    let Some(law) = LAWS.iter().find(|l| l.name == *name) else {
        let hint = nearest(name, LAWS.iter().map(|l| l.name)).map_or(String::new(), |n| format!(" (did you mean `{n}`?)"));
        anyhow::bail!("`{name}` is no law{hint}: `fidelon explain` lists them");
    };
    setting::print(&explained::law(law, &demo::flawed(law.name), style));
    Ok(exit::HOLDS)
}
