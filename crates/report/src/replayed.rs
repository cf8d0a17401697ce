//! A case played again, step by step; and what accepting changes.

use std::fmt::Write as _;

use fidelon_core::baseline::Changes;
use fidelon_core::judge::check::{in_words, path_of};
use fidelon_core::judge::equivalence::diff;
use fidelon_core::observation::{ParentView, PhaseSnapshot, Tone};
use fidelon_dom::serialize;

use crate::style::Style;
use crate::terminal::changes;

/// One step of a replay: its words, what was seen after it, the checks that stand there.
#[derive(Debug, Clone, Copy)]
pub struct Moment<'a> {
    /// The step; none for the mount.
    pub step: Option<&'a str>,
    /// What was seen.
    pub seen: &'a PhaseSnapshot,
    /// How many checks hold there, and how the others fail.
    pub checked: Option<(usize, &'a [fidelon_core::finding::Failure])>,
}

/// The steps of a replay. The page is told whole after the mount, and then by what changed.
pub fn tell(moments: &[Moment<'_>], style: Style) -> String {
    let mut out = String::new();
    let mut before: Option<(String, ParentView)> = None;
    for (i, moment) in moments.iter().enumerate() {
        let title = moment.step.map_or_else(|| "mounted".to_owned(), |step| format!("{i}  {step}"));
        let _ = writeln!(out, "\n{}", style.strong(&title));
        let seen = moment.seen;
        let page = outline(seen);
        let held = held(seen);
        came(seen, style, &mut out);
        match &before {
            None => {
                for line in page.lines() {
                    let _ = writeln!(out, "   {line}");
                }
                parent(&ParentView::default(), &held, style, &mut out);
            }
            Some((old, had)) => {
                let lines = diff(old, &page);
                if lines.is_empty() {
                    let _ = writeln!(out, "   {}", style.quiet("the page stays as it is"));
                }
                out.push_str(&changes(&lines, 2, style));
                parent(had, &held, style, &mut out);
            }
        }
        if let Some((held, failures)) = moment.checked {
            if held > 0 {
                let word = if held == 1 { "1 check holds".to_owned() } else { format!("{held} checks hold") };
                let _ = writeln!(out, "   {}", style.good(&format!("✓ {word}")));
            }
            for failure in failures {
                let _ = writeln!(out, "   {} {}", style.bad("✗"), style.fold(&failure.message, 5));
                if let (Some(expected), Some(actual)) = (&failure.expected, &failure.actual) {
                    let _ = writeln!(out, "     {} {}", style.quiet("expected"), style.fold(expected, 14));
                    let _ = writeln!(out, "     {} {}", style.quiet("actual  "), style.fold(actual, 14));
                }
            }
        }
        before = Some((page, held));
    }
    out
}

/// The outline of the page, and what has the focus.
fn outline(seen: &PhaseSnapshot) -> String {
    let mut out = seen.tree.body().map(|b| serialize::outline(&seen.tree, b)).unwrap_or_default();
    if let Some(focused) = seen.tree.focused.filter(|f| Some(*f) != seen.tree.body()) {
        let _ = writeln!(out, "the focus is on {}", path_of(&seen.tree, focused));
    }
    out
}

/// What the parent holds, of all parts.
fn held(seen: &PhaseSnapshot) -> ParentView {
    let mut out = ParentView::default();
    for (part, held) in &seen.held {
        let name = |n: &String| if part.is_empty() { n.clone() } else { format!("{part}.{n}") };
        out.bound.extend(held.bound.iter().map(|(n, v)| (name(n), v.clone())));
    }
    out
}

fn parent(had: &ParentView, has: &ParentView, style: Style, out: &mut String) {
    for (name, value) in has.bound.iter().filter(|(n, v)| had.bound.get(*n) != Some(v)) {
        let _ = writeln!(out, "   {} {name} = {value}", style.quiet("held    "));
    }
}

/// What came since the step before: events, requests, log, faults.
fn came(seen: &PhaseSnapshot, style: Style, out: &mut String) {
    let mut say = |label: &str, text: &str| {
        let _ = writeln!(out, "   {} {}", style.quiet(&format!("{label:<8}")), style.fold(text, 12));
    };
    for event in &seen.events {
        say("emitted", &in_words(event));
    }
    for request in &seen.requests {
        let body = request.body.as_ref().map(|b| format!(" {b}")).unwrap_or_default();
        let lost = if request.answered { "" } else { " (no reply is canned)" };
        say("asked", &format!("{} {}{body}{lost}", request.method, request.url));
    }
    for note in &seen.notes {
        let label = match note.tone {
            Tone::Warned => "warned",
            Tone::Failed => "threw",
            Tone::Said => "said",
        };
        let place = note.place.as_ref().map(|p| format!("{p}: ")).unwrap_or_default();
        say(label, &format!("{place}{}", note.text));
    }
    for fault in &seen.faults {
        say("fault", &fault.message);
    }
}

/// What recording anew changes, in words.
pub fn changes_in_words(changes: Changes, first: bool, combinations: usize) -> String {
    let all = if combinations == 1 { "1 combination".to_owned() } else { format!("{combinations} combinations") };
    if first {
        return format!("{all}, for the first time");
    }
    let parts: Vec<String> = [(changes.changed, "changed"), (changes.new, "new"), (changes.gone, "gone")]
        .iter()
        .filter(|(n, _)| *n > 0)
        .map(|(n, word)| format!("{n} {word}"))
        .collect();
    if parts.is_empty() { format!("{all}, as before") } else { format!("{all}: {}", parts.join(", ")) }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn changes_are_counted_in_words() {
        for (changes, first, words) in [
            (Changes::default(), true, "1 combination, for the first time"),
            (Changes::default(), false, "1 combination, as before"),
            (Changes { new: 2, changed: 1, gone: 0 }, false, "1 combination: 1 changed, 2 new"),
        ] {
            assert_eq!(changes_in_words(changes, first, 1), words);
        }
    }
}
