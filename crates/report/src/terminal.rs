//! Results on a terminal: a line per component, then the findings as a person would tell them.

use std::fmt::Write as _;

use fidelon_core::Verdict;
use fidelon_core::finding::{Finding, RuleKind};
use fidelon_core::results::{Component, Results};

use crate::faults;
use crate::style::Style;
use crate::told::{count, in_words, promise, when};

/// The whole report. `read` gives the text of a file, for the pieces that are shown.
pub fn report(results: &Results, style: Style, read: &dyn Fn(&str) -> Option<String>) -> String {
    let mut out = String::new();
    for fault in &results.faults {
        let text = read(&fault.place.file);
        out.push_str(&faults::show(fault, text.as_deref(), style));
        out.push('\n');
    }
    let width = results.components.iter().map(|c| c.component.chars().count()).max().unwrap_or(0).min(48);
    for component in &results.components {
        out.push_str(&line(component, width, style));
    }
    for component in &results.components {
        for finding in &component.findings {
            out.push('\n');
            out.push_str(&tell(component, finding, style, read));
        }
    }
    out.push('\n');
    for note in &results.notes {
        let _ = writeln!(out, "{}", style.fold(note, 0));
    }
    out.push_str(&totals(results, style));
    out
}

/// What is another than before: faults, components with their findings, components that are gone.
pub fn changes_told(
    components: &[Component],
    wrong: &[fidelon_core::results::FileFault],
    gone: &[String],
    style: Style,
    read: &dyn Fn(&str) -> Option<String>,
) -> String {
    let mut out = String::new();
    for fault in wrong {
        out.push_str(&faults::show(fault, read(&fault.place.file).as_deref(), style));
        out.push('\n');
    }
    let width = components.iter().map(|c| c.component.chars().count()).max().unwrap_or(0).min(48);
    for component in components {
        out.push_str(&line(component, width, style));
    }
    for name in gone {
        let _ = writeln!(out, "{}", style.quiet(&format!("– {name} is there no more")));
    }
    for component in components {
        for finding in &component.findings {
            out.push('\n');
            out.push_str(&tell(component, finding, style, read));
        }
    }
    out
}

fn line(component: &Component, width: usize, style: Style) -> String {
    let rules: usize = component.clauses.iter().chain(&component.laws).map(|r| r.checked).sum();
    let checked = rules + component.baseline.as_ref().map_or(0, |b| b.checked);
    let broken = component.findings.len();
    let (mark, word) = match component.verdict {
        Verdict::Holds => (
            style.good("✓"),
            style.quiet(&format!("holds     {} in {}", count(checked, "check"), count(component.combinations, "combination"))),
        ),
        Verdict::Broken => (
            style.bad("✗"),
            format!(
                "{}    {} of {} in {}",
                style.bad("broken"),
                count(broken, "promise"),
                component.clauses.len() + component.laws.len() + usize::from(component.baseline.is_some()),
                count(component.combinations, "combination")
            ),
        ),
        Verdict::Unjudged => (style.open("?"), style.open("unjudged")),
    };
    let mut out = format!("{mark} {:width$}  {word}\n", component.component);
    if let Some(reason) = &component.reason {
        let place = reason.place.as_ref().map(|p| format!("{p}: ")).unwrap_or_default();
        let _ = writeln!(out, "    {}", style.fold(&format!("{place}{}", reason.message), 4));
    }
    for note in &component.notes {
        let _ = writeln!(out, "    {}", style.quiet(&style.fold(note, 4)));
    }
    out
}

/// One finding: what was promised, exactly when it breaks, expected beside actual, where, and the case.
fn tell(component: &Component, finding: &Finding, style: Style, read: &dyn Fn(&str) -> Option<String>) -> String {
    let mut out = String::new();
    let promise = promise(finding);
    let _ = writeln!(out, "{} {}", style.bad(&component.component), style.strong(&promise));
    let mut say = |label: &str, text: &str| {
        let _ = writeln!(out, "  {} {}", style.quiet(&format!("{label:<9}")), style.fold(text, 12));
    };
    say("breaks", &when(finding));
    for cause in &finding.also {
        say("also", &format!("when {}", in_words(cause)));
    }
    say("so", &finding.failure.message);
    match (&finding.failure.expected, &finding.failure.actual) {
        (Some(expected), Some(actual)) if finding.failure.diff.is_empty() => {
            let (expected, actual) = brief(expected, actual);
            say("expected", &expected);
            say("actual", &actual);
        }
        _ => {}
    }
    out.push_str(&changes(&finding.failure.diff, 12, style));
    let mut say = |label: &str, text: &str| {
        let _ = writeln!(out, "  {} {}", style.quiet(&format!("{label:<9}")), style.fold(text, 12));
    };
    if let Some(node) = &finding.failure.node {
        say("at", node);
    }
    if !finding.events.is_empty() {
        let more = finding.events.len().saturating_sub(MOST_EVENTS);
        let rest = if more > 0 { format!(", and {} more", count(more, "event")) } else { String::new() };
        say("events", &(finding.events[..finding.events.len() - more].join(", then ") + &rest));
    }
    say("shown by", &format!("{} with {}", finding.case, finding.combination));
    match finding.kind {
        RuleKind::Clause => say("again", &format!("fidelon replay {}", finding.case)),
        RuleKind::Law => say("more", &format!("fidelon explain {}", finding.rule)),
        RuleKind::Baseline => {}
    }
    if let Some(place) = &finding.failure.place {
        say("source", &place.to_string());
        if let Some(text) = read(&place.file)
            && let Some(line) = text.lines().nth(place.line.saturating_sub(1) as usize)
        {
            let _ = writeln!(out, "            {}", style.quiet(line.trim()));
        }
    }
    if let Some(written) = &finding.written {
        let _ = writeln!(out, "  {} {}", style.quiet(&format!("{:<9}", "promised")), style.quiet(&written.to_string()));
    }
    out
}

/// Events that are shown; the results file has them all.
const MOST_EVENTS: usize = 12;

/// Lines of a difference that are shown; the results file has them all.
const MOST_LINES: usize = 40;

/// A difference line by line.
pub(crate) fn changes(diff: &[String], indent: usize, style: Style) -> String {
    let mut out = String::new();
    for line in diff.iter().take(MOST_LINES) {
        let line = match line.chars().next() {
            Some('-') => style.bad(line),
            Some('+') => style.good(line),
            _ => style.quiet(line),
        };
        let _ = writeln!(out, "{:indent$}{line}", "");
    }
    if diff.len() > MOST_LINES {
        let _ = writeln!(out, "{:indent$}{}", "", style.quiet(&format!("… and {} lines more", diff.len() - MOST_LINES)));
    }
    out
}

/// The longest text that is shown whole.
const SHORT: usize = 280;

/// Two texts cut to where they first differ, with a little before it, when they are long. The results file has them whole.
fn brief(expected: &str, actual: &str) -> (String, String) {
    let same = expected.chars().zip(actual.chars()).take_while(|(a, b)| a == b).count();
    let cut = |text: &str| {
        let length = text.chars().count();
        if length <= SHORT {
            return text.to_owned();
        }
        let from = if same > 60 { same - 40 } else { 0 };
        let piece: String = text.chars().skip(from).take(SHORT - 40).collect();
        // It begins with a tag or a word.
        let start = if from > 0 { piece.find(['<', ' ']).filter(|at| *at < 40).unwrap_or(0) } else { 0 };
        let piece = &piece[start..];
        let (before, after) = (if from > 0 { "… " } else { "" }, if from + SHORT - 40 < length { " …" } else { "" });
        format!("{before}{}{after}", piece.trim())
    };
    (cut(expected), cut(actual))
}

fn totals(results: &Results, style: Style) -> String {
    let t = &results.totals;
    if t.components == 0 && results.faults.is_empty() {
        return "No component was found. Name a folder or a file: fidelon check src\n".into();
    }
    let holding = t.components - t.broken - t.unjudged;
    let mut parts = Vec::new();
    if holding > 0 || t.components == 0 {
        parts.push(style.good(&format!("{holding} hold")));
    }
    if t.broken > 0 {
        parts.push(style.bad(&format!("{} broken", t.broken)));
    }
    if t.unjudged > 0 {
        parts.push(style.open(&format!("{} unjudged", t.unjudged)));
    }
    if !results.faults.is_empty() {
        parts.push(style.bad(&format!("{} in files", count(results.faults.len(), "fault"))));
    }
    format!(
        "{}: {} · {} · {}\n",
        count(t.components, "component"),
        parts.join(", "),
        count(t.combinations, "combination"),
        count(t.checks, "check")
    )
}
