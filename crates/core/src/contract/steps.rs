//! The steps of a clause: from a node to a [`Step`].

use indexmap::IndexMap;

use crate::contract::fault::Fault;
use crate::contract::read::{keys_of, text_of};
use crate::contract::values::value_of;
use crate::contract::yaml::{self, Data, Node};
use crate::locator::Locator;
use crate::stage::{DroppedFile, Step};
use crate::value::Value;

/// The key that names a step, and the keys that may stand beside it.
const STEPS: [(&str, &[&str]); 19] = [
    ("press", &["times"]),
    ("type", &["into", "replace"]),
    ("key", &["at"]),
    ("choose", &["from"]),
    ("tick", &[]),
    ("untick", &[]),
    ("focus", &[]),
    ("leave", &[]),
    ("point", &[]),
    ("signal", &["at", "detail"]),
    ("pass", &[]),
    ("assign", &[]),
    ("fill", &[]),
    ("call", &["with", "gives"]),
    ("elapse", &[]),
    ("drop", &["onto"]),
    ("scroll", &["to"]),
    ("resize", &[]),
    ("edit", &["to"]),
];

/// Reads a step that stands by itself, as a command line gives it: `press: button "Raise"`.
///
/// # Errors
/// All that is wrong with it, with places in the text.
pub fn step(text: &str) -> Result<Step, Vec<Fault>> {
    let read = |text: &str| yaml::parse(text).map_err(|fault| vec![fault]).and_then(|node| read_step(&node));
    // Several keys stand on one line: `type: bowl, into: textbox`.
    read(text).or_else(|faults| read(&format!("{{ {text} }}")).map_err(|_| faults))
}

/// Reads a step.
///
/// # Errors
/// All that is wrong with it.
pub fn read_step(node: &Node) -> Result<Step, Vec<Fault>> {
    let step = read_inner(node)?;
    match node.get("part") {
        None => Ok(step),
        Some(part) => {
            let mut faults = Vec::new();
            text_of(part, "part", &mut faults).map(|part| Step::In { part, inner: Box::new(step) }).ok_or(faults)
        }
    }
}

fn read_inner(node: &Node) -> Result<Step, Vec<Fault>> {
    if let Some(remove) = node.get("remove") {
        let mut faults = Vec::new();
        keys_of(node, "step", &["remove", "part"], &mut faults);
        if remove.to_json() != true {
            faults.push(Fault::kind(remove.span, "remove", "`true`", remove.kind()));
        }
        return if faults.is_empty() { Ok(Step::Remove) } else { Err(faults) };
    }
    let Some((key, allowed)) = STEPS.iter().find(|(k, _)| node.get(k).is_some()) else {
        let names: Vec<&str> = STEPS.iter().map(|(k, _)| *k).chain(["remove"]).collect();
        return Err(vec![match node.entries().iter().find(|(k, _)| k.text() != Some("part")) {
            Some((k, _)) => Fault::unknown(k.span, "step", k.text().unwrap_or_default(), &names),
            None => Fault::kind(node.span, "do", "a list of steps such as `press: button \"Raise\"`", node.kind()),
        }]);
    };
    let mut faults = Vec::new();
    keys_of(node, "step", &[&[*key, "part"], *allowed].concat(), &mut faults);
    let subject = node.get(key).expect("found above");
    let step = build(key, node, subject, &mut faults);
    match step {
        Some(step) if faults.is_empty() => Ok(step),
        _ => Err(faults),
    }
}

fn build(key: &str, node: &Node, subject: &Node, faults: &mut Vec<Fault>) -> Option<Step> {
    Some(match key {
        "press" => Step::Press { at: locator(subject, key, faults)?, times: count(node, "times", 1, faults)? },
        "type" => Step::Type {
            text: scalar_text(subject, key, faults)?,
            at: locator(required(node, "into", faults)?, "into", faults)?,
            replace: node.get("replace").is_some_and(|n| n.to_json() == true),
        },
        "key" => Step::Key {
            key: text_of(subject, key, faults)?,
            at: match node.get("at") {
                Some(at) => Some(locator(at, "at", faults)?),
                None => None,
            },
        },
        "choose" => {
            Step::Choose { option: scalar_text(subject, key, faults)?, at: locator(required(node, "from", faults)?, "from", faults)? }
        }
        "tick" | "untick" => Step::Tick { at: locator(subject, key, faults)?, on: key == "tick" },
        "focus" => Step::Focus { at: locator(subject, key, faults)? },
        "leave" => Step::Leave { at: locator(subject, key, faults)? },
        "point" => Step::Point { at: locator(subject, key, faults)? },
        "signal" => Step::Signal {
            event: text_of(subject, key, faults)?,
            at: locator(required(node, "at", faults)?, "at", faults)?,
            detail: node.get("detail").map_or(Value::Absent, value_of),
        },
        "pass" => Step::Pass { props: values(subject, key, faults)? },
        "assign" => Step::Assign { props: values(subject, key, faults)? },
        "fill" => Step::Fill { fills: fills_of(subject, faults)? },
        "call" => Step::Call {
            member: text_of(subject, key, faults)?,
            with: node.get("with").map_or_else(Vec::new, |n| n.one_or_many().iter().map(value_of).collect()),
            gives: node.get("gives").map(value_of),
        },
        "elapse" => Step::Elapse { milliseconds: duration(subject, faults)? },
        "drop" => {
            let files = subject.one_or_many().iter().filter_map(|f| dropped(f, faults)).collect();
            Step::Drop { files, at: locator(required(node, "onto", faults)?, "onto", faults)? }
        }
        "scroll" => {
            let at = if subject.text() == Some("page") { None } else { Some(locator(subject, key, faults)?) };
            let to = required(node, "to", faults)?;
            let pixels = |n: &Node, faults: &mut Vec<Fault>| {
                let number = n.to_json().as_f64().or(is_template(n).then_some(0.0));
                if number.is_none() {
                    faults.push(Fault::kind(n.span, "to", "pixels, or `{ left: 0, top: 200 }`", n.kind()));
                }
                number
            };
            match &to.data {
                Data::Map(_) => {
                    keys_of(to, "scroll position", &["left", "top"], faults);
                    let mut side = |name: &str| to.get(name).map_or(Some(0.0), |n| pixels(n, faults));
                    Step::Scroll { at, left: side("left")?, top: side("top")? }
                }
                _ => Step::Scroll { at, left: 0.0, top: pixels(to, faults)? },
            }
        }
        "resize" => {
            keys_of(subject, "size of the window", &["width", "height"], faults);
            let mut side = |name: &str, usual: u32| count(subject, name, usual, faults);
            let (width, height) = (side("width", 1280)?, side("height", 800)?);
            if subject.entries().is_empty() {
                faults.push(Fault::kind(subject.span, key, "`{ width: 375, height: 667 }`", subject.kind()));
            }
            Step::Resize { width, height }
        }
        "edit" => Step::Edit { at: locator(subject, key, faults)?, to: value_of(required(node, "to", faults)?) },
        _ => return None,
    })
}

/// A file by its name, or with its type and text.
fn dropped(node: &Node, faults: &mut Vec<Fault>) -> Option<DroppedFile> {
    let Data::Map(_) = &node.data else {
        return text_of(node, "drop", faults).map(|name| DroppedFile { media: media_of(&name).into(), name, text: String::new() });
    };
    keys_of(node, "key of a file", &["name", "type", "text"], faults);
    let Some(name) = node.get("name").and_then(|n| text_of(n, "name", faults)) else {
        faults.push(Fault::new(node.span, "`name` is missing: which file?").help("write `drop: mug.png`, or `{ name, type, text }`"));
        return None;
    };
    let media = node.get("type").and_then(|n| text_of(n, "type", faults)).unwrap_or_else(|| media_of(&name).into());
    let text = node.get("text").and_then(|n| text_of(n, "text", faults)).unwrap_or_default();
    Some(DroppedFile { name, media, text })
}

/// The media type that browsers give a file of this name (IANA).
fn media_of(name: &str) -> &'static str {
    match name.rsplit_once('.').map_or("", |(_, end)| end).to_ascii_lowercase().as_str() {
        "png" => "image/png",
        "jpg" | "jpeg" => "image/jpeg",
        "gif" => "image/gif",
        "webp" => "image/webp",
        "svg" => "image/svg+xml",
        "pdf" => "application/pdf",
        "txt" => "text/plain",
        "csv" => "text/csv",
        "json" => "application/json",
        "html" | "htm" => "text/html",
        "zip" => "application/zip",
        _ => "",
    }
}

fn required<'a>(node: &'a Node, key: &str, faults: &mut Vec<Fault>) -> Option<&'a Node> {
    let found = node.get(key);
    if found.is_none() {
        faults.push(Fault::new(node.span, format!("`{key}` is missing: where is it to happen?")));
    }
    found
}

/// Text from any scalar: `type: 600` types the digits.
fn scalar_text(node: &Node, key: &str, faults: &mut Vec<Fault>) -> Option<String> {
    match node.to_json() {
        serde_json::Value::String(s) => Some(s),
        serde_json::Value::Number(n) => Some(match n.as_f64() {
            Some(f) if f.fract() == 0.0 => format!("{f:.0}"),
            _ => n.to_string(),
        }),
        _ => {
            faults.push(Fault::kind(node.span, key, "a text", node.kind()));
            None
        }
    }
}

fn count(node: &Node, key: &str, default: u32, faults: &mut Vec<Fault>) -> Option<u32> {
    let Some(given) = node.get(key) else { return Some(default) };
    if is_template(given) {
        return Some(default);
    }
    match given.to_json().as_f64() {
        Some(n) if n.fract() == 0.0 && (0.0..=10_000.0).contains(&n) => Some(n as u32),
        _ => {
            faults.push(Fault::kind(given.span, key, "a whole number up to 10000", given.kind()));
            None
        }
    }
}

pub(crate) fn is_template(node: &Node) -> bool {
    node.text().is_some_and(|t| t.contains("${"))
}

/// A locator; the traps that YAML sets for one get their own message.
pub(crate) fn locator(node: &Node, key: &str, faults: &mut Vec<Fault>) -> Option<Locator> {
    if matches!(node.data, Data::List(_)) {
        faults.push(Fault::kind(node.span, key, "a locator", "a list").help("YAML takes `[…]` for a list: put the selector in quotes"));
        return None;
    }
    let Some(text) = node.text().filter(|t| !t.is_empty() || !node.is_null()) else {
        faults
            .push(Fault::kind(node.span, key, "a locator", node.kind()).help("YAML takes `#id` for a comment: put the selector in quotes"));
        return None;
    };
    if is_template(node) {
        // Its text is only known in a case: what stands in for it now must not be judged.
        return Some(Locator { written: text.into(), text: Some(String::new()), ..Locator::default() });
    }
    match Locator::parse(text) {
        Ok(locator) => Some(locator),
        Err(error) => {
            // The place is told in characters of the locator; what stands in quotes begins one later.
            let offset = text.char_indices().nth(error.at).map_or(text.len(), |(at, _)| at);
            let quoted = usize::from(node.span.end - node.span.start > text.len());
            let start = node.span.start + (quoted + offset).min(node.span.end - node.span.start);
            faults.push(
                Fault::new(fidelon_source::Span::new(start.min(node.span.end.saturating_sub(1)), node.span.end), error.message)
                    .help("a locator is a CSS selector, `role \"name\"`, `role(name)`, `text(\"…\")`, `slot(name)` or `ref(name)`"),
            );
            None
        }
    }
}

fn values(node: &Node, key: &str, faults: &mut Vec<Fault>) -> Option<IndexMap<String, Value>> {
    if node.entries().is_empty() {
        faults.push(Fault::kind(node.span, key, "props and their values, as `{ target: 600 }`", node.kind()));
        return None;
    }
    Some(node.entries().iter().map(|(k, v)| (k.text().unwrap_or_default().to_owned(), value_of(v))).collect())
}

/// Slot contents: HTML, or `absent`.
pub(crate) fn fills_of(node: &Node, faults: &mut Vec<Fault>) -> Option<IndexMap<String, Option<String>>> {
    let mut out = IndexMap::new();
    for (name, content) in node.entries() {
        match value_of(content) {
            Value::Absent => drop(out.insert(name.text().unwrap_or_default().to_owned(), None)),
            Value::Json(serde_json::Value::String(html)) => drop(out.insert(name.text().unwrap_or_default().to_owned(), Some(html))),
            _ => faults.push(Fault::kind(content.span, name.text().unwrap_or_default(), "HTML as a text, or `absent`", content.kind())),
        }
    }
    Some(out)
}

/// `5s`, `250ms`, `2min`, in milliseconds.
pub(crate) fn duration(node: &Node, faults: &mut Vec<Fault>) -> Option<u32> {
    let text = node.text().unwrap_or_default().trim();
    let split = text.find(|c: char| c.is_ascii_alphabetic()).unwrap_or(text.len());
    let factor = match &text[split..] {
        "ms" => Some(1.0),
        "s" => Some(1000.0),
        "min" => Some(60_000.0),
        _ => None,
    };
    let amount = text[..split].trim().parse::<f64>().ok().filter(|n| *n >= 0.0);
    match (amount, factor) {
        (Some(n), Some(f)) if n * f <= 86_400_000.0 => Some((n * f) as u32),
        _ if is_template(node) => Some(0),
        _ => {
            faults.push(Fault::new(node.span, "a time is a number with its unit, up to a day").help("write `5s`, `250ms` or `2min`"));
            None
        }
    }
}

/// The names that a step uses: props and slots, to be checked against the surface.
pub fn props_named(step: &Step) -> Vec<&str> {
    match step {
        Step::Pass { props } | Step::Assign { props } => props.keys().map(String::as_str).collect(),
        Step::In { inner, .. } => props_named(inner),
        _ => Vec::new(),
    }
}
