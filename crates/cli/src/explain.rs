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
    let mut examples = demo::flawed(law.name);
    let mut others = Vec::new();
    match &args.framework {
        Some(wanted) => {
            if !demo::FRAMEWORKS.contains(&wanted.as_str()) {
                let hint = nearest(wanted, demo::FRAMEWORKS.into_iter()).map_or(String::new(), |n| format!(" (did you mean `{n}`?)"));
                anyhow::bail!("there are no examples in `{wanted}`{hint}: name one of {}", demo::FRAMEWORKS.join(", "));
            }
            others = examples.iter().map(|(framework, _)| *framework).filter(|f| f != wanted).collect();
            examples.retain(|(framework, _)| framework == wanted);
            if examples.is_empty() {
                setting::note(&format!("note: nothing in the kit breaks `{name}` in {wanted}"));
            }
        }
        // Two show what a law is about; more are a scroll.
        None => {
            if examples.len() > 2 {
                others = examples.split_off(2).into_iter().map(|(framework, _)| framework).collect();
            }
        }
    }
    let files: Vec<_> = examples.into_iter().flat_map(|(_, files)| files).collect();
    setting::print(&explained::law(law, &files, &others, style));
    Ok(exit::HOLDS)
}
