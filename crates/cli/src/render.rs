//! `fidelon render`

use std::io::Read as _;

use anyhow::{Context as _, anyhow, bail};
use fidelon_core::contract;
use fidelon_core::fits::{fits, misfit};
use fidelon_core::judge::check::in_words;
use fidelon_core::observation::Tone;
use fidelon_core::stage::{StageError, Step};
use fidelon_report::{Form, rendered};
use fidelon_run::{RenderError, RenderRequest, render};

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
    let (component, source) = match (args.component.as_str(), &args.as_file) {
        ("-", Some(file)) => (file.as_str(), Some(text_of_input()?)),
        ("-", None) => bail!("`-` reads a component from standard input, which is read as some file: name it by `--as-file src/Card.vue`"),
        (_, Some(_)) => bail!("`--as-file` says what standard input is read as: name `-` for the component"),
        (component, None) => (component, None),
    };
    let mut steps = args.steps.iter().map(|text| step_of(text)).collect::<anyhow::Result<Vec<Step>>>()?;
    steps.extend(args.elapse.map(|milliseconds| Step::Elapse { milliseconds }));
    let asked = RenderRequest { component, source: source.as_deref(), with: &args.with, fills: &args.fill, steps: &steps };
    let made = match render(&root, asked, &setting::stage(&root, &args.stages, common)) {
        Ok(made) => made,
        Err(error) => return cannot(error, component),
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
        // What a mount says stands in no line of its own; what came of steps does.
        for event in made.seen.events.iter().filter(|_| !steps.is_empty()) {
            setting::note(&format!("emitted {}", in_words(event)));
        }
    }
    let threw = made.seen.notes.iter().any(|n| n.tone == Tone::Failed);
    Ok(if threw { exit::BROKEN } else { exit::HOLDS })
}

/// What standard input holds.
fn text_of_input() -> anyhow::Result<String> {
    let mut text = String::new();
    std::io::stdin().lock().take(MOST_INPUT).read_to_string(&mut text).context("standard input cannot be read as text")?;
    Ok(text)
}

/// No component is longer.
const MOST_INPUT: u64 = 16 << 20;

/// A step as contracts write it.
fn step_of(text: &str) -> anyhow::Result<Step> {
    contract::steps::step(text).map_err(|faults| {
        let told = faults.first().map_or_else(String::new, |f| match &f.help {
            Some(help) => format!("{} ({help})", f.message),
            None => f.message.clone(),
        });
        anyhow!("--do `{text}`: {told}")
    })
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
