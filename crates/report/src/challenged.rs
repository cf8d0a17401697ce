//! What came of breaking components on purpose: a line per component, what no promise noticed, and the sums.

use std::fmt::Write as _;

use fidelon_core::challenge::{ChallengeResults, ChallengedComponent, FaultCounts, FaultOutcome, SeenDifference, TriedFault};
use unicode_width::UnicodeWidthStr as _;

use crate::style::Style;
use crate::told::{count, in_one_line};

/// The column in which what is said of a fault begins.
const INDENT: usize = 14;

/// A component with the faults that nobody noticed; `width` is that of the [`crate::terminal::column`] of names.
pub fn one(component: &ChallengedComponent, width: usize, style: Style) -> String {
    let mut out = line(component, width, style);
    for fault in &component.faults {
        if let FaultOutcome::Missed { difference, clause } = &fault.outcome {
            out.push('\n');
            out.push_str(&missed(fault, difference, clause.as_deref(), style));
        }
    }
    if component.totals.missed() > 0 {
        out.push('\n');
    }
    out
}

fn line(component: &ChallengedComponent, width: usize, style: Style) -> String {
    let totals = component.totals;
    let (mark, word) = match &component.reason {
        Some(_) => (style.open("?"), style.open("not challenged")),
        None if component.possible == 0 => (style.quiet("–"), style.quiet("nothing in its source to break")),
        None if totals.missed() == 0 => (style.good("✓"), style.quiet(&noticed(totals))),
        None => (style.bad("✗"), noticed(totals)),
    };
    let pad = " ".repeat(width.saturating_sub(component.component.width()));
    let mut out = match width {
        0 => format!("{mark} {}\n    {}\n", style.fold(&component.component, 2), style.fold(&word, 4)),
        _ => format!("{mark} {}{pad}  {word}\n", component.component),
    };
    if let Some(reason) = &component.reason {
        let place = reason.place.as_ref().map(|p| format!("{p}: ")).unwrap_or_default();
        let _ = writeln!(out, "    {}", style.fold(&format!("{place}{}", reason.message), 4));
    }
    if !component.broken.is_empty() {
        let told = format!("as it is it breaks {}: the other promises are challenged", component.broken.join(", "));
        let _ = writeln!(out, "    {}", style.quiet(&style.fold(&told, 4)));
    }
    let tried = component.faults.len();
    if tried > 0 && tried < component.possible {
        let told = format!("{tried} of {} tried: `--most all` tries every one", count(component.possible, "possible fault"));
        let _ = writeln!(out, "    {}", style.quiet(&style.fold(&told, 4)));
    }
    out
}

/// `noticed 21 of 24 faults (87 %); 3 show nothing in what was played`.
fn noticed(totals: FaultCounts) -> String {
    let FaultCounts { counted, noticed, equal, invalid } = totals;
    let mut out = format!("noticed {noticed} of {} ({} %)", count(counted, "fault"), totals.percent());
    if equal > 0 {
        let _ = write!(out, "; {equal} {} nothing in what was played", if equal == 1 { "shows" } else { "show" });
    }
    if invalid > 0 {
        let _ = write!(out, "; {invalid} cannot be loaded");
    }
    out
}

fn missed(fault: &TriedFault, difference: &SeenDifference, clause: Option<&str>, style: Style) -> String {
    let mut out = format!("{} {}\n", style.bad(&fault.place.to_string()), style.strong(&format!("not noticed: {}", fault.words)));
    let mut say = |label: &str, text: &str| {
        let _ = writeln!(out, "  {} {}", style.quiet(&format!("{label:<11}")), style.fold(text, INDENT));
    };
    say("shows", &format!("with {}", difference.case));
    say("as it is", &in_one_line(&difference.before));
    say("broken", &in_one_line(&difference.after));
    let common = fault.before.iter().chain(&fault.after).map(|l| l.len() - l.trim_start().len()).min().unwrap_or(0);
    let cut = |line: &String| line.get(common..).unwrap_or(line).to_owned();
    for before in &fault.before {
        let _ = writeln!(out, "  {} {}", style.quiet(&" ".repeat(11)), style.bad(&format!("- {}", cut(before))));
    }
    for after in &fault.after {
        let _ = writeln!(out, "  {} {}", style.quiet(&" ".repeat(11)), style.good(&format!("+ {}", cut(after))));
    }
    match clause {
        Some(clause) => {
            for (at, text) in clause.lines().enumerate() {
                let label = if at == 0 { "this clause" } else { "" };
                let _ = writeln!(out, "  {} {text}", style.quiet(&format!("{label:<11}")));
            }
        }
        None => {
            let _ = writeln!(out, "  {} {}", style.quiet("           "), style.quiet("no clause could be made of it"));
        }
    }
    out
}

/// What stands below the components: the kinds of faults that are missed most, and the sums.
pub fn ending(results: &ChallengeResults, style: Style) -> String {
    let mut out = String::new();
    if results.components.last().is_none_or(|c| c.totals.missed() == 0) {
        out.push('\n');
    }
    let mut missed: Vec<(&str, FaultCounts)> =
        results.kinds.iter().filter(|k| k.counts.missed() > 0).map(|k| (k.kind.as_str(), k.counts)).collect();
    missed.sort_by_key(|(_, counts)| std::cmp::Reverse(counts.missed()));
    if !missed.is_empty() {
        let told: Vec<String> = missed.iter().map(|(kind, counts)| format!("{kind} {} of {}", counts.missed(), counts.counted)).collect();
        let _ = writeln!(out, "{} {}", style.quiet("Not noticed, by kind:"), style.fold(&told.join(", "), 2));
    }
    let skipped = results.components.iter().filter(|c| c.reason.is_some()).count();
    let skipped = if skipped > 0 { format!(", {skipped} not challenged") } else { String::new() };
    let _ = writeln!(out, "{}{skipped}: {}", count(results.components.len(), "component"), noticed(results.totals));
    out
}

#[cfg(test)]
mod tests {
    use super::*;
    use fidelon_source::Place;

    #[test]
    fn what_is_missed_is_told_with_its_clause() {
        let place = Place { file: "KilnDial.vue".into(), line: 7, column: 3 };
        let difference = SeenDifference {
            case: "unit = \"F\"".into(),
            aspect: "the document".into(),
            before: "<p>610</p>".into(),
            after: "<p>600</p>".into(),
        };
        let outcome = FaultOutcome::Missed { difference, clause: Some("- clause: x\n  expect:\n".into()) };
        let mut totals = FaultCounts::default();
        totals.add(&outcome);
        totals.add(&FaultOutcome::Equal);
        let tried = TriedFault {
            kind: "boundary".into(),
            words: "a limit is mistaken".into(),
            place,
            before: vec!["    if (a > 3) go()".into()],
            after: vec!["    if (a >= 3) go()".into()],
            outcome,
        };
        let component = ChallengedComponent {
            component: "KilnDial.vue".into(),
            contract: None,
            reason: None,
            broken: Vec::new(),
            totals,
            possible: 4,
            faults: vec![tried],
        };
        let style = Style { colour: false, width: 90 };
        assert_eq!(
            one(&component, 14, style),
            "✗ KilnDial.vue    noticed 0 of 1 fault (0 %); 1 shows nothing in what was played\n    1 of 4 possible faults tried: `--most all` tries every one\n\n\
             KilnDial.vue:7:3 not noticed: a limit is mistaken\n  shows       with unit = \"F\"\n  as it is    <p>610</p>\n  broken      <p>600</p>\n  \
             \u{20}           - if (a > 3) go()\n              + if (a >= 3) go()\n  this clause - clause: x\n                expect:\n\n"
        );
    }
}
