//! `fidelon render`

use fidelon_core::fits::{fits, misfit};
use fidelon_core::observation::Tone;
use fidelon_core::stage::StageError;
use fidelon_report::{Form, rendered};
use fidelon_run::{RenderError, render};

use crate::args::{Common, Render, RenderForm};
use crate::{exit, setting};

/// Runs the command; gives the exit code.
pub fn run(args: &Render, common: &Common) -> anyhow::Result<i32> {
    let root = setting::root()?;
    let form = match args.form {
        RenderForm::Html => Form::Html,
        RenderForm::Raw => Form::Raw,
        RenderForm::Outline => Form::Outline,
        RenderForm::Json => Form::Json,
    };
    let made = match render(&root, &args.component, &args.with, &args.fill, &setting::stage(&root, &args.stages, common)) {
        Ok(made) => made,
        Err(error) => return cannot(error, &args.component),
    };
    for name in &made.made_up {
        match made.combination.props.get(name) {
            Some(value) => setting::note(&format!("note: `{name}` is required and was not given: {value} was made up (--with {name}=…)")),
            None => setting::note(&format!("note: `{name}` is required and was not given (--with {name}=…)")),
        }
    }
    for (name, _) in &args.with {
        if let (Some(prop), Some(value)) = (made.surface.prop(name), made.combination.props.get(name))
            && !fits(value, &prop.ty)
        {
            let (declared, given) = misfit(value, &prop.ty);
            setting::note(&format!("note: {given} does not fit `{name}` ({declared}); it was passed all the same"));
        }
    }
    let printed = rendered::print(&made.surface, &made.combination, &made.seen, form);
    if form == Form::Json {
        setting::print_data(&printed)
    } else {
        setting::print(&printed)
    }
    if form != Form::Json {
        for line in rendered::notes(&made.seen) {
            setting::note(&line);
        }
    }
    let threw = made.seen.notes.iter().any(|n| n.tone == Tone::Failed);
    Ok(if threw { exit::BROKEN } else { exit::HOLDS })
}

/// Tells why a component could not be played; gives the exit code, or the error that is the request's.
pub fn cannot(error: RenderError, component: &str) -> anyhow::Result<i32> {
    match error {
        RenderError::Stage(StageError::File { message, place }) => {
            let place = place.map(|p| format!("{p}: ")).unwrap_or_default();
            setting::note(&format!("fidelon: {place}{message}"));
            Ok(exit::WRONG)
        }
        RenderError::Stage(StageError::Unjudged(unjudged)) => {
            setting::note(&format!("fidelon: {component}: {unjudged}"));
            Ok(exit::UNJUDGED)
        }
        error => Err(error.into()),
    }
}
