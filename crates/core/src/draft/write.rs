//! The contract as text.

use std::fmt::Write as _;

use serde_json::Value as Json;

use super::{Clause, Draft};
use crate::plan::Domain;
use crate::surface::Surface;
use crate::value::Value;

/// The contract of a draft. `component` is the path by which it names the component.
pub fn write(draft: &Draft, surface: &Surface, component: &str) -> String {
    let mut out = format!(
        "# Drafted from what {} declares and from what was observed of it. Each clause says what is so, not yet what ought\n# to be: keep what you mean, correct what you do not, and take the word `observed` away.\ncomponent: {}\n",
        surface.name,
        scalar(component),
    );
    let (mut props, mut slots) = (String::new(), String::new());
    for domain in &draft.domains {
        match domain {
            Domain::Prop(name, values) => {
                let values: Vec<String> = values.iter().map(value).collect();
                let _ = writeln!(props, "  {}: [{}]{}", scalar(name), values.join(", "), about(surface, name));
            }
            Domain::Slot(name, fills) => {
                let fills: Vec<String> =
                    fills.iter().map(|f| f.as_ref().map_or("absent".to_owned(), |html| Json::from(html.as_str()).to_string())).collect();
                let _ = writeln!(slots, "  {}: [{}]", scalar(name), fills.join(", "));
            }
        }
    }
    for (key, text) in [("props", props), ("slots", slots)] {
        if !text.is_empty() {
            let _ = write!(out, "\n{key}:\n{text}");
        }
    }
    if !draft.exposes.is_empty() {
        out.push_str("\nexposes:\n");
        for (name, is_function) in &draft.exposes {
            let _ = writeln!(out, "  {}: {}", scalar(name), if *is_function { "function" } else { "{}" });
        }
    }
    if !draft.laws.is_empty() {
        out.push_str(
            "\nlaws:\n  # Broken when this was drafted: fix the component, or say here why it may be so. `fidelon explain` tells each.\n",
        );
        for law in &draft.laws {
            let _ = writeln!(out, "  {law}: {{ off: true, because: not looked at yet }}");
        }
    }
    if draft.clauses.is_empty() {
        out.push_str("\nclauses: []\n");
        return out;
    }
    out.push_str("\nclauses:\n");
    for (i, clause) in draft.clauses.iter().enumerate() {
        if i > 0 {
            out.push('\n');
        }
        one(clause, &mut out);
    }
    out
}

fn one(clause: &Clause, out: &mut String) {
    let _ = writeln!(out, "  - clause: {}   # observed", scalar(&clause.words));
    if let Some(only) = &clause.only {
        let _ = writeln!(out, "    where: {}", scalar(only));
    }
    if !clause.steps.is_empty() {
        out.push_str("    do:\n");
        for line in &clause.steps {
            let _ = writeln!(out, "      {line}");
        }
    }
    out.push_str("    expect:\n");
    for check in &clause.checks {
        for (i, line) in check.iter().enumerate() {
            let _ = writeln!(out, "      {}{line}", if i == 0 { "- " } else { "  " });
        }
    }
}

fn about(surface: &Surface, prop: &str) -> String {
    surface.prop(prop).and_then(|p| p.about.as_ref()).map_or(String::new(), |about| format!("   # {about}"))
}

pub(super) fn value(value: &Value) -> String {
    match value {
        Value::Absent => "absent".to_owned(),
        Value::Json(Json::String(text)) => flow_text(text),
        Value::Json(json) => json.to_string(),
        Value::Js(text) => format!("{{ $js: {} }}", Json::from(text.as_str())),
        Value::From(text) => format!("{{ $from: {} }}", Json::from(text.as_str())),
        Value::Other(text) => Json::from(text.as_str()).to_string(),
    }
}

/// Words that YAML or contracts take for something else.
const TAKEN: [&str; 12] = ["absent", "all", "true", "false", "null", "yes", "no", "on", "off", "~", "nothing", "only"];

fn flow_text(text: &str) -> String {
    let plain =
        text.starts_with(char::is_alphabetic) && text.chars().all(|c| c.is_alphanumeric() || " -_.".contains(c)) && text.trim() == text;
    if plain && !TAKEN.contains(&text.to_lowercase().as_str()) { text.to_owned() } else { Json::from(text).to_string() }
}

/// A text as a value of a block, in quotes where it needs them.
pub(super) fn scalar(text: &str) -> String {
    let first = text.chars().next().is_some_and(|c| c.is_alphabetic() || c == '.' && text.len() > 1);
    let safe = first
        && !text.contains(": ")
        && !text.ends_with(':')
        && !text.contains(" #")
        && !text.contains(['\n', '\t', '\\'])
        && text.trim() == text;
    if safe && !TAKEN.contains(&text.to_lowercase().as_str()) { text.to_owned() } else { Json::from(text).to_string() }
}

/// A text of a template: `${label}` needs no quotes.
pub(super) fn text_scalar(text: &str) -> String {
    let bare = text.starts_with("${") && text.ends_with('}') && text.matches("${").count() == 1 && !text.contains(['"', '#', ':']);
    if bare { text.to_owned() } else { flow_text(text) }
}

/// A value in one line of YAML.
pub(super) fn flow(json: &Json) -> String {
    match json {
        Json::Object(map) => {
            format!("{{ {} }}", map.iter().map(|(k, v)| format!("{}: {}", flow_text(k), flow(v))).collect::<Vec<_>>().join(", "))
        }
        Json::Array(list) => format!("[{}]", list.iter().map(flow).collect::<Vec<_>>().join(", ")),
        Json::String(text) => flow_text(text),
        other => other.to_string(),
    }
}

/// A condition as a person would say it.
pub(super) fn in_words(condition: &str) -> String {
    let one = |part: &str| {
        let part = part.trim();
        if let Some(name) = part.strip_prefix('!') {
            return format!("not {name}");
        }
        let told = [
            (" !== undefined", "is passed"),
            (" === undefined", "is not passed"),
            (" !== null", "is filled"),
            (" === null", "is empty"),
            (" === \"\"", "is empty"),
            (" !== \"\"", "is not empty"),
            (".length === 0", "is empty"),
            (".length > 0", "is not empty"),
        ];
        if let Some((name, words)) = told.iter().find_map(|(end, words)| Some((part.strip_suffix(end)?, words))) {
            return format!("{} {words}", name.replace("slots.default", "its slot").replace("slots.", ""));
        }
        part.replace(" === ", " is ").replace('"', "")
    };
    let joined = |parts: Vec<String>, word: &str| parts.join(word);
    if condition.contains(" || ") {
        return joined(condition.split(" || ").map(one).collect(), " or ");
    }
    joined(condition.split(" && ").map(one).collect(), " and ")
}

/// The prop that an expression is about, in words.
pub(super) fn subject(expression: &str) -> String {
    let word: String = expression.chars().skip_while(|c| !c.is_alphabetic()).take_while(|c| c.is_alphanumeric() || *c == '_').collect();
    if word.is_empty() { "its props".into() } else { word }
}
