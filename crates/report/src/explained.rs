//! The laws, listed, and one of them told with an example.

use std::fmt::Write as _;

use fidelon_core::judge::laws::{LAWS, Law};
use fidelon_docs::LAWS as PAGE;

use crate::style::Style;

/// All laws with what they demand.
pub fn list(style: Style) -> String {
    let mut out = String::from("Every component is held to these laws, without a contract and without being told to.\n");
    let width = LAWS.iter().map(|l| l.name.len()).max().unwrap_or(0);
    let mut group = "";
    for law in &LAWS {
        let (of, _) = law.name.split_once('/').unwrap_or((law.name, ""));
        if of != group {
            out.push('\n');
            group = of;
        }
        let _ = writeln!(out, "  {}  {}", style.strong(&format!("{:width$}", law.name)), style.fold(law.demands, width + 4));
    }
    out.push_str("\nThe last one needs `fidelon check --confirm`. fidelon explain prop/live tells one, with an example that breaks it.\n");
    out
}

/// One law: what it demands and why, examples that break it by file, `others` where there are more, the fix, and how to exempt.
pub fn law(law: &Law, examples: &[(&str, &str)], others: &[&str], style: Style) -> String {
    let mut out = format!("{}\n", style.strong(law.name));
    for paragraph in section(law.name).unwrap_or_default().split("\n\n").map(str::trim).filter(|p| !p.is_empty()) {
        let text = paragraph.split_whitespace().collect::<Vec<_>>().join(" ");
        let told = ["Why:", "Fix:"].iter().find_map(|word| Some((*word, text.strip_prefix(word)?.trim())));
        match told {
            Some((word, rest)) => {
                let _ = writeln!(out, "\n{}\n  {}", style.strong(word.trim_end_matches(':')), style.fold(&sentence(rest), 2));
            }
            None => {
                let _ = writeln!(out, "\n  {}", style.fold(&text, 2));
            }
        }
    }
    for (file, text) in examples {
        let _ = writeln!(out, "\n{} {}", style.strong("Broken by"), style.quiet(file));
        for line in text.lines() {
            let line = if line.contains("The flaw:") { style.bad(line) } else { line.to_owned() };
            out.push_str(if line.is_empty() { "" } else { "  " });
            out.push_str(&line);
            out.push('\n');
        }
    }
    if !others.is_empty() {
        let more = format!("fidelon explain {} --in {}", law.name, others.join(" | "));
        let _ = writeln!(out, "\n{}\n  {}", style.strong("In other frameworks"), style.fold(&more, 2));
    }
    let _ = write!(
        out,
        "\n{}\n  In the contract:\n\n    laws:\n      {name}: {{ off: true, because: why it does not hold here }}\n\n  For a folder, in fidelon.toml:\n\n    [[exempt]]\n    law = \"{name}\"\n    in = \"legacy\"\n    because = \"why it does not hold there\"\n",
        style.strong("Exempt"),
        name = law.name
    );
    out
}

/// With a capital letter, as the words stand by themselves.
fn sentence(text: &str) -> String {
    let mut chars = text.chars();
    chars.next().into_iter().flat_map(char::to_uppercase).chain(chars).collect()
}

/// What the book says of a law: what it demands, why, how it is mended.
pub fn section(name: &str) -> Option<&'static str> {
    let head = format!("## {name}\n");
    let text = &PAGE[PAGE.find(&head)? + head.len()..];
    Some(&text[..text.find("\n## ").unwrap_or(text.len())])
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_book_tells_every_law_and_no_other() {
        for law in &LAWS {
            let text = section(law.name).unwrap_or_else(|| panic!("{} has a section", law.name));
            assert!(text.contains("\nWhy: ") && text.contains("\nFix: "), "{}", law.name);
        }
        assert_eq!(PAGE.matches("\n## ").count(), LAWS.len());
    }
}
