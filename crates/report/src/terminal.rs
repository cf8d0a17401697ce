//! Results on a terminal: a line per component with its findings as a person would tell them, so that a run can print them as they come;
//! then what is wrong with files, and the sums.

use std::collections::HashMap;
use std::fmt::Write as _;

use fidelon_core::Verdict;
use fidelon_core::finding::{Finding, RuleKind};
use fidelon_core::results::{Component, Met, Reason, Results};
use fidelon_source::Place;
use unicode_width::UnicodeWidthStr as _;

use crate::faults;
use crate::style::Style;
use crate::told::{count, in_words, promise, when};

/// What was told already, each with the component that it was told of: all that show a part have its fault, and what one component misses
/// most others miss too.
#[derive(Debug, Default)]
pub struct ToldBefore {
    faults: HashMap<(String, String, String, Place), String>,
    reasons: HashMap<(String, Option<Place>), String>,
}

impl ToldBefore {
    /// The component of which the same reason was told; else it is told of this one.
    fn reason(&mut self, component: &Component, reason: &Reason) -> Option<&str> {
        // The start of its file is no place that says anything of its own.
        let place = reason.place.clone().filter(|place| (place.line, place.column) != (1, 1));
        let first = self.reasons.entry((reason.message.clone(), place)).or_insert_with(|| component.component.clone());
        (*first != component.component).then_some(first)
    }

    /// The component that this fault was told of, where that was another; else it is told of this one.
    fn fault(&mut self, component: &Component, finding: &Finding) -> Option<&str> {
        let Finding { rule, kind: RuleKind::Law, about, failure, .. } = finding else { return None };
        let place = failure.place.clone()?;
        // What is declared in a package is declared for all that are made from it.
        let is_of_a_part = if about.is_none() { failure.node.is_some() } else { place.file.contains("node_modules/") };
        if !is_of_a_part {
            return None;
        }
        let node = failure.node.clone().unwrap_or_default();
        let first = self.faults.entry((rule.clone(), failure.message.clone(), node, place)).or_insert_with(|| component.component.clone());
        (*first != component.component).then_some(first)
    }
}

/// The whole report. `read` gives the text of a file, for the pieces that are shown.
pub fn report(results: &Results, style: Style, read: &dyn Fn(&str) -> Option<String>) -> String {
    let width = column(results.components.iter().map(|c| c.component.as_str()), style);
    let mut before = ToldBefore::default();
    let told: String = results.components.iter().map(|c| one(c, width, style, read, &mut before)).collect();
    told + &ending(results, style, read)
}

/// A component with its findings; `width` is that of the [`column`] of names.
pub fn one(component: &Component, width: usize, style: Style, read: &dyn Fn(&str) -> Option<String>, before: &mut ToldBefore) -> String {
    let mut out = line(component, width, style, before);
    for finding in &component.findings {
        out.push('\n');
        match before.fault(component, finding) {
            Some(first) => out.push_str(&tell_again(component, finding, first, style)),
            None => out.push_str(&tell(component, finding, style, read)),
        }
    }
    if !component.findings.is_empty() {
        out.push('\n');
    }
    out
}

/// What stands below the components: what is wrong with files, notes, and the sums.
pub fn ending(results: &Results, style: Style, read: &dyn Fn(&str) -> Option<String>) -> String {
    let mut out = String::new();
    // Below findings there is a blank line already.
    let mut apart = results.components.last().is_none_or(|c| !c.findings.is_empty());
    for fault in &results.faults {
        if !std::mem::take(&mut apart) {
            out.push('\n');
        }
        let text = read(&fault.place.file);
        out.push_str(&faults::show(fault, text.as_deref(), style));
    }
    if !apart {
        out.push('\n');
    }
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
    let width = column(components.iter().map(|c| c.component.as_str()), style);
    let mut before = ToldBefore::default();
    for component in components {
        out.push_str(&one(component, width, style, read, &mut before));
    }
    for name in gone {
        let _ = writeln!(out, "{}", style.quiet(&format!("– {name} is there no more")));
    }
    out
}

/// The width of the column of names: on a narrow terminal names take a line of their own.
pub fn column<'a>(names: impl Iterator<Item = &'a str>, style: Style) -> usize {
    let longest = names.map(str::width).max().unwrap_or(0).min(48);
    if longest + 44 > style.width { 0 } else { longest }
}

/// How many promises were checked in some case: those that nothing was to be seen of do not count.
fn judged(component: &Component) -> usize {
    let rules = component.clauses.iter().chain(&component.laws).filter(|r| r.checked > 0).count();
    rules + usize::from(component.baseline.is_some())
}

/// What of the declared props was passed, where that is not all of them.
fn passed(component: &Component) -> String {
    let Met { met, of } = component.coverage.props;
    if met == of || component.combinations == 0 { String::new() } else { format!(", {met} of {} passed", count(of, "prop")) }
}

fn line(component: &Component, width: usize, style: Style, before: &mut ToldBefore) -> String {
    let rules: usize = component.clauses.iter().chain(&component.laws).map(|r| r.checked).sum();
    let checked = rules + component.baseline.as_ref().map_or(0, |b| b.checked);
    let broken = component.findings.len();
    let (mark, word) = match component.verdict {
        Verdict::Holds => (
            style.good("✓"),
            style.quiet(&format!(
                "holds     {} in {}{}",
                count(checked, "check"),
                count(component.combinations, "combination"),
                passed(component)
            )),
        ),
        Verdict::Broken => (
            style.bad("✗"),
            format!(
                "{}    {} of {} in {}{}",
                style.bad("broken"),
                count(broken, "promise"),
                judged(component),
                count(component.combinations, "combination"),
                passed(component)
            ),
        ),
        Verdict::Unjudged => (style.open("?"), style.open("unjudged")),
    };
    let pad = " ".repeat(width.saturating_sub(component.component.width()));
    let mut out = match width {
        0 => format!("{mark} {}\n    {}\n", style.fold(&component.component, 2), style.fold(&word, 14)),
        _ => format!("{mark} {}{pad}  {word}\n", component.component),
    };
    if let Some(reason) = &component.reason {
        let told = before.reason(component, reason).map_or_else(
            || reason.place.as_ref().map(|p| format!("{p}: ")).unwrap_or_default() + &reason.message,
            |first| format!("for the reason that was told of {first}"),
        );
        let _ = writeln!(out, "    {}", style.fold(&told, 4));
    }
    for note in &component.notes {
        let _ = writeln!(out, "    {}", style.quiet(&style.fold(note, 4)));
    }
    out
}

/// The first line of a finding: the component and the promise.
fn heading(component: &Component, finding: &Finding, style: Style) -> String {
    let promise = promise(finding);
    let apart = if component.component.width() + 1 + promise.width() > style.width { "\n  " } else { " " };
    format!("{}{apart}{}\n", style.bad(&component.component), style.strong(&style.fold(&promise, 2)))
}

/// A finding that is a part's, which another component shows as well.
fn tell_again(component: &Component, finding: &Finding, first: &str, style: Style) -> String {
    let place = finding.failure.place.as_ref().map(|place| format!(", at {place}")).unwrap_or_default();
    let again = style.fold(&format!("told of {first}{place}"), 12);
    format!("{}  {} {again}\n", heading(component, finding, style), style.quiet("as       "))
}

/// One finding: what was promised, exactly when it breaks, expected beside actual, where, and the case.
fn tell(component: &Component, finding: &Finding, style: Style, read: &dyn Fn(&str) -> Option<String>) -> String {
    let mut out = heading(component, finding, style);
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
            let (marked, under) = marked(&expected, &actual, style);
            say("expected", &marked.0);
            say("actual", &marked.1);
            out.push_str(&under);
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
        // A payload may be the whole of a component: what comes after its first lines tells nobody anything.
        let short = |event: &String| match event.char_indices().nth(SHORT) {
            Some((end, _)) => format!("{} …", &event[..end]),
            None => event.clone(),
        };
        let told: Vec<String> = finding.events[..finding.events.len() - more].iter().map(short).collect();
        say("events", &(told.join(", then ") + &rest));
    }
    say("shown by", &format!("{} with {}", finding.case, finding.combination));
    match finding.kind {
        RuleKind::Clause => say("again", &format!("fidelon replay {}", finding.case)),
        RuleKind::Law => say("more", &format!("fidelon explain {}", finding.rule)),
        RuleKind::Baseline => {}
    }
    if let Some(place) = &finding.failure.place {
        say("source", &place.to_string());
        if let Some(text) = read(&place.file) {
            out.push_str(&around(&text, place, style));
        }
    }
    if let Some(written) = &finding.written {
        let _ = writeln!(out, "  {} {}", style.quiet(&format!("{:<9}", "promised")), style.quiet(&written.to_string()));
    }
    out
}

/// A line of a source with its number and those beside it, each cut to the width of the terminal.
fn around(text: &str, place: &Place, style: Style) -> String {
    let line = place.line.max(1) as usize;
    let shown: Vec<(usize, &str)> = text.lines().enumerate().map(|(i, l)| (i + 1, l)).filter(|(n, _)| n.abs_diff(line) <= 1).collect();
    let indent = shown.iter().filter(|(_, l)| !l.trim().is_empty()).map(|(_, l)| l.len() - l.trim_start().len()).min().unwrap_or(0);
    let mut out = String::new();
    for (number, text) in shown {
        let room = style.width.saturating_sub(22).max(20);
        let text: String = text.get(indent..).unwrap_or_default().chars().take(room).collect();
        let told = format!("{} {number:>4} {}", if number == line { ">" } else { " " }, text.trim_end());
        let told = if number == line { told } else { style.quiet(&told) };
        let _ = writeln!(out, "            {}", told.trim_end());
    }
    out
}

/// Two texts with what differs in them marked: by colour, or by a line below them where there is none and it would not be plain to see.
fn marked(expected: &str, actual: &str, style: Style) -> ((String, String), String) {
    let (e, a): (Vec<char>, Vec<char>) = (expected.chars().collect(), actual.chars().collect());
    let start = e.iter().zip(&a).take_while(|(x, y)| x == y).count();
    let end = e.iter().rev().zip(a.iter().rev()).take_while(|(x, y)| x == y).count().min(e.len().min(a.len()) - start);
    let alike = start + end;
    let piece = |of: &[char], from: usize, to: usize| of[from..to].iter().collect::<String>();
    let cut = |of: &[char], mark: &dyn Fn(&str) -> String| {
        let middle = piece(of, start, of.len() - end);
        format!("{}{}{}", piece(of, 0, start), if middle.is_empty() { middle } else { mark(&middle) }, piece(of, of.len() - end, of.len()))
    };
    if style.colour {
        return ((cut(&e, &|t| style.good(t)), cut(&a, &|t| style.bad(t))), String::new());
    }
    let plain = (expected.to_owned(), actual.to_owned());
    // Two words that have nothing in common need no line; one that is folded cannot have one.
    let fits = 12 + expected.width().max(actual.width()) <= style.width && !expected.contains('\n') && !actual.contains('\n');
    if alike < 3 || !fits {
        return (plain, String::new());
    }
    let before: usize = piece(&a, 0, start).width();
    let under = "^".repeat(piece(&a, start, a.len() - end).width().max(1));
    (plain, format!("            {}{under}\n", " ".repeat(before)))
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
        parts.push(style.good(&format!("{holding} {}", if holding == 1 { "holds" } else { "hold" })));
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
    let line = format!(
        "{}: {} · {} · {}",
        count(t.components, "component"),
        parts.join(", "),
        count(t.combinations, "combination"),
        count(t.checks, "check")
    );
    style.fold(&line, 2) + "\n"
}
