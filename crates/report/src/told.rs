//! The words of a finding that every report shares.

use fidelon_core::finding::{Condition, Finding, RuleKind};
use fidelon_core::judge::laws;

/// What was seen, in one line that is no page.
pub fn in_one_line(text: &str) -> String {
    const MOST: usize = 300;
    let line = text.split_whitespace().collect::<Vec<_>>().join(" ");
    if line.chars().count() <= MOST { line } else { line.chars().take(MOST).chain(['…']).collect() }
}

/// What was promised.
pub fn promise(finding: &Finding) -> String {
    match finding.kind {
        RuleKind::Clause => format!("“{}”", finding.rule),
        RuleKind::Law => {
            let demands = laws::LAWS.iter().find(|l| l.name == finding.rule).map_or("", |l| l.demands);
            format!("{} ({demands})", finding.rule)
        }
        RuleKind::Baseline => finding.rule.clone(),
    }
}

/// Exactly when it breaks, without counts; none where no condition tells.
pub fn cause(finding: &Finding) -> Option<String> {
    let cause = finding.cause.as_ref()?;
    let rest = finding.also.iter().map(|also| in_words(also));
    let first = if cause.is_empty() { "always".to_owned() } else { in_words(cause) };
    Some(std::iter::once(first).chain(rest).collect::<Vec<_>>().join(", or "))
}

/// Exactly when it breaks: `exactly when`, and the condition; the second part is empty where no condition tells.
pub fn condition(finding: &Finding) -> (&'static str, String) {
    match &finding.cause {
        Some(cause) if cause.is_empty() => ("always", String::new()),
        // With other causes beside it, it is no longer the only one.
        Some(cause) if !finding.also.is_empty() => ("when", in_words(cause)),
        Some(cause) => ("exactly when", in_words(cause)),
        None => ("in some cases", String::new()),
    }
}

/// In how many cases it broke, of those that were looked at.
pub fn counts(finding: &Finding) -> String {
    let asked = if finding.asked > 0 { format!("; {} more played to tell", finding.asked) } else { String::new() };
    format!("broke in {} of {}{asked}", finding.broke, count(finding.checked, "case"))
}

/// Exactly when it breaks, with the counts on both sides.
pub fn when(finding: &Finding) -> String {
    if finding.cause.is_none() {
        return format!("in {} of {}", finding.broke, count(finding.checked, "case"));
    }
    let (how, cause) = condition(finding);
    format!("{how}{}{cause} ({})", if cause.is_empty() { "" } else { " " }, counts(finding))
}

/// A finding in one sentence: promise, cause, what was found.
pub fn sentence(finding: &Finding) -> String {
    let when = match cause(finding) {
        Some(always) if always == "always" => "breaks always".to_owned(),
        Some(cause) => format!("breaks when {cause}"),
        None => format!("breaks in {} of {}", finding.broke, count(finding.checked, "case")),
    };
    let failure = &finding.failure;
    let values = match (&failure.expected, &failure.actual) {
        (Some(expected), Some(actual)) if failure.diff.is_empty() => {
            format!(" (expected {}, actual {})", one_line(expected), one_line(actual))
        }
        _ => String::new(),
    };
    let promised = match finding.kind {
        RuleKind::Clause => format!("“{}”", finding.rule),
        RuleKind::Law | RuleKind::Baseline => finding.rule.clone(),
    };
    format!("{promised} {when}: {}{values}", one_line(&failure.message))
}

/// Conditions in words.
pub fn in_words(cause: &[Condition]) -> String {
    cause.iter().map(ToString::to_string).collect::<Vec<_>>().join(" and ")
}

/// A number of things.
pub fn count(n: usize, what: &str) -> String {
    if n == 1 { format!("1 {what}") } else { format!("{n} {what}s") }
}

/// How much of a value a line shows.
const SHORT: usize = 200;

/// A text in one line, cut where it is long.
fn one_line(text: &str) -> String {
    let flat = text.split_whitespace().collect::<Vec<_>>().join(" ");
    if flat.chars().count() <= SHORT { flat } else { flat.chars().take(SHORT - 2).chain(" …".chars()).collect() }
}
