//! Two components side by side: what differs, the largest first, and the version step that it asks for.

use std::fmt::Write as _;

use fidelon_core::compare::{CompareResults, ComparedPair, Difference, Level};

use crate::style::Style;
use crate::terminal::changes;
use crate::told::{count, in_one_line};

/// The column in which what is said of a difference begins.
const INDENT: usize = 12;

/// The whole report.
pub fn report(results: &CompareResults, style: Style) -> String {
    let mut out = String::new();
    for pair in &results.pairs {
        out.push_str(&one(pair, style));
        out.push('\n');
    }
    out.push_str(&ending(results, style));
    out
}

fn one(pair: &ComparedPair, style: Style) -> String {
    let names = match (&pair.before, &pair.after) {
        (Some(a), Some(b)) if a == b => a.clone(),
        (a, b) => [a, b].into_iter().map(|n| n.as_deref().unwrap_or("(none)")).collect::<Vec<_>>().join(" → "),
    };
    let (mark, word) = match (&pair.reason, pair.level) {
        (Some(_), _) => (style.open("?"), style.open("not compared")),
        (None, None) => (style.good("✓"), style.good("the same for its parents")),
        (None, Some(level)) => (style.bad("≠"), coloured(level, &level.to_string(), style)),
    };
    let played = if pair.plays > 0 {
        format!("  {}", style.quiet(&format!("{} in {}", count(pair.plays, "play"), count(pair.combinations, "combination"))))
    } else {
        String::new()
    };
    let mut out = format!("{mark} {names}  {word}{played}\n");
    if let Some(reason) = &pair.reason {
        let place = reason.place.as_ref().map(|p| format!("{p}: ")).unwrap_or_default();
        let _ = writeln!(out, "    {}", style.fold(&format!("{place}{}", reason.message), 4));
    }
    for note in &pair.notes {
        let _ = writeln!(out, "    {}", style.quiet(&style.fold(note, 4)));
    }
    for difference in &pair.differences {
        out.push_str(&told(difference, style));
    }
    out
}

fn coloured(level: Level, text: &str, style: Style) -> String {
    match level {
        Level::Major => style.bad(text),
        Level::Minor => style.open(text),
        Level::Patch => style.quiet(text),
    }
}

fn told(difference: &Difference, style: Style) -> String {
    let level = coloured(difference.level, &format!("{:<7}", difference.level.to_string()), style);
    let mut out = format!("  {level}   {}\n", style.strong(&style.fold(&difference.message, INDENT)));
    let mut say = |label: &str, text: &str| {
        let _ = writeln!(out, "  {} {}", style.quiet(&format!("{label:<9}")), style.fold(text, INDENT));
    };
    if difference.looked > 0 {
        let cases = format!("in {} of {}", difference.differed, count(difference.looked, "case"));
        say("differs", &difference.when.as_ref().map_or(cases.clone(), |when| format!("{when} ({cases})")));
    }
    if let Some(case) = &difference.case {
        say("case", case);
    }
    if difference.diff.is_empty()
        && let (Some(before), Some(after)) = (&difference.before, &difference.after)
    {
        say("before", &in_one_line(before));
        say("after", &in_one_line(after));
    }
    out.push_str(&changes(&difference.diff, INDENT, style));
    out
}

fn ending(results: &CompareResults, style: Style) -> String {
    let all = || results.pairs.iter().flat_map(|p| &p.differences);
    let of = |level: Level| all().filter(|d| d.level == level).count();
    let skipped = results.pairs.iter().filter(|p| p.reason.is_some()).count();
    let skipped = if skipped > 0 { format!(", {skipped} not compared") } else { String::new() };
    let pairs = count(results.pairs.len(), "pair");
    match results.level {
        None => format!("{pairs}{skipped}: nobody can tell the two sides apart in what was played\n"),
        Some(level) => format!(
            "{pairs}{skipped}: {} major, {} minor, {} patch. The change asks for a {} version.\n",
            of(Level::Major),
            of(Level::Minor),
            of(Level::Patch),
            coloured(level, &level.to_string(), style),
        ),
    }
}

/// Lines for a changelog, in Markdown: what parents must know, then what is new.
pub fn changelog(results: &CompareResults) -> String {
    let mut out = String::new();
    for (level, title) in [(Level::Major, "Changed, and parents can break"), (Level::Minor, "New"), (Level::Patch, "Changed within")] {
        let mut lines: Vec<String> = Vec::new();
        for pair in &results.pairs {
            let name = pair.after.as_ref().or(pair.before.as_ref()).map_or("", String::as_str);
            for difference in pair.differences.iter().filter(|d| d.level == level) {
                let when = difference.when.as_ref().filter(|w| *w != "always").map(|w| format!(", {w}")).unwrap_or_default();
                lines.push(format!("- `{name}`: {}{when}", difference.message));
            }
        }
        if !lines.is_empty() {
            let _ = writeln!(out, "### {title}\n\n{}\n", lines.join("\n"));
        }
    }
    out
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn differences_are_told_with_the_version_that_they_ask_for() {
        let mut pair = ComparedPair::new(Some("a/Dial.vue".into()), Some("b/Dial.vue".into()));
        pair.differences.push(Difference::of_surface(Level::Minor, "the prop `tone` is new".into()));
        pair.differences.push(Difference {
            when: Some("when unit = \"F\"".into()),
            case: Some("unit = \"F\"".into()),
            differed: 1,
            looked: 2,
            before: Some("fire 1".into()),
            after: Some("nothing".into()),
            ..Difference::of_surface(Level::Major, "other events are sent after `press button \"Fire\"`".into())
        });
        let results = CompareResults { level: Some(Level::Major), pairs: vec![pair.sorted()], ..CompareResults::default() };
        let style = Style { colour: false, width: 90 };
        assert_eq!(
            report(&results, style),
            "≠ a/Dial.vue → b/Dial.vue  major\n  major     other events are sent after `press button \"Fire\"`\n  differs   when unit = \"F\" (in 1 of 2 cases)\n  \
             case      unit = \"F\"\n  before    fire 1\n  after     nothing\n  minor     the prop `tone` is new\n\n\
             1 pair: 1 major, 1 minor, 0 patch. The change asks for a major version.\n"
        );
        assert_eq!(
            changelog(&results),
            "### Changed, and parents can break\n\n- `b/Dial.vue`: other events are sent after `press button \"Fire\"`, when unit = \"F\"\n\n\
             ### New\n\n- `b/Dial.vue`: the prop `tone` is new\n\n"
        );
    }
}
