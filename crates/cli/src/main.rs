//! `fidelon`: parse, run, exit.

mod accept;
mod args;
mod challenge;
mod changed;
mod check;
mod compare;
mod demo;
mod draft;
mod editor;
mod exit;
mod explain;
mod folder;
mod keys;
mod licences;
mod merge;
mod output;
mod progress;
mod render;
mod replay;
mod reports;
mod scheduled;
mod serve;
mod setting;
mod sheet;
mod shells;
mod studio;
mod survey;
mod watch;

use std::process::ExitCode;

use clap::Parser as _;

/// Engines take and give back small pieces all the time, on threads of their own, where the system's allocator grows its heap
/// page by page.
#[global_allocator]
static ALLOCATOR: fidelon_run::Metered<mimalloc::MiMalloc> = fidelon_run::Metered(mimalloc::MiMalloc);

fn main() -> ExitCode {
    // Components see one time zone everywhere, or the same run would give other bytes elsewhere.
    // SAFETY: no other thread runs yet.
    unsafe { std::env::set_var("TZ", "UTC") };
    fidelon_run::serve_if_asked();
    // No browser that was started is left behind.
    let _ = ctrlc::set_handler(|| {
        progress::interrupted();
        fidelon_run::end_all();
        std::process::exit(130);
    });
    let args = args::Args::parse();
    let outcome = match &args.command {
        args::Command::Check(check) => check::run(check, &args.common),
        args::Command::Challenge(challenge) => challenge::run(challenge, &args.common),
        args::Command::Compare(compare) => compare::run(compare, &args.common),
        args::Command::Sheet(sheet) => sheet::run(sheet, &args.common),
        args::Command::Watch(watch) => watch::run(watch, &args.common),
        args::Command::Serve(serve) => serve::run(serve, &args.common),
        args::Command::Editor(_) => editor::run(&args.common),
        args::Command::Completions(completions) => Ok(shells::completions(completions)),
        args::Command::Licences => licences::run(),
        args::Command::Manual(manual) => shells::manual(manual),
        args::Command::Merge(merge) => merge::run(merge, &args.common),
        args::Command::Render(render) => render::run(render, &args.common),
        args::Command::Accept(accept) => accept::run(accept, &args.common),
        args::Command::Replay(replay) => replay::run(replay, &args.common),
        args::Command::Explain(explain) => explain::run(explain, &args.common),
        args::Command::Survey(survey) => survey::run(survey, &args.common),
        args::Command::Draft(draft) => draft::run(draft, &args.common),
        args::Command::Demo(demo) => demo::run(demo, &args.common),
        args::Command::Schema(schema) => {
            setting::print_data(match schema.of {
                args::SchemaOf::Contract => fidelon_docs::CONTRACT_SCHEMA,
                args::SchemaOf::Results => fidelon_docs::RESULTS_SCHEMA,
            });
            Ok(exit::HOLDS)
        }
    };
    let code = outcome.unwrap_or_else(|error| {
        setting::note(&format!("fidelon: {error:#}"));
        exit::WRONG
    });
    // What was printed and lost is as if it had not been asked for: a full disk must not look like a good run.
    let code = match output::failure() {
        Some(why) => {
            setting::note(&format!("fidelon: standard output cannot be written: {why}"));
            exit::WRONG
        }
        None => code,
    };
    // Processes that play components may still be busy: leaving does not wait for them, and they end with this one.
    std::process::exit(code);
}
