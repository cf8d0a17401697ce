//! YAML 1.2 (core schema) as a tree in which every node knows its place.

use fidelon_source::Span;
use saphyr_parser::{Event, Parser, ScalarStyle};
use serde_json::{Map, Value as Json};

use crate::contract::fault::Fault;

/// A node of the text.
#[derive(Debug, Clone, PartialEq)]
pub struct Node {
    /// Where it stands.
    pub span: Span,
    /// What it is.
    pub data: Data,
}

/// What a node is.
#[derive(Debug, Clone, PartialEq)]
pub enum Data {
    /// A scalar; `plain` when it is not quoted.
    Scalar {
        /// The text.
        text: String,
        /// True when it stands without quotes.
        plain: bool,
    },
    /// A sequence.
    List(Vec<Node>),
    /// A mapping, in the order of the text.
    Map(Vec<(Node, Node)>),
    /// A value that a template gave.
    Given(Json),
}

impl Node {
    /// The text of a scalar.
    pub fn text(&self) -> Option<&str> {
        match &self.data {
            Data::Scalar { text, .. } => Some(text),
            Data::Given(Json::String(text)) => Some(text),
            _ => None,
        }
    }

    /// The entries of a mapping.
    pub fn entries(&self) -> &[(Node, Node)] {
        match &self.data {
            Data::Map(entries) => entries,
            _ => &[],
        }
    }

    /// The entry with this key.
    pub fn get(&self, key: &str) -> Option<&Node> {
        self.entries().iter().find(|(k, _)| k.text() == Some(key)).map(|(_, v)| v)
    }

    /// The items of a list.
    pub fn items(&self) -> Option<&[Node]> {
        match &self.data {
            Data::List(items) => Some(items),
            _ => None,
        }
    }

    /// The items of a list, or the node itself as the only one.
    pub fn one_or_many(&self) -> &[Node] {
        match &self.data {
            Data::List(items) => items,
            _ => std::slice::from_ref(self),
        }
    }

    /// True for a scalar that means nothing: empty, `~` or `null`.
    pub fn is_null(&self) -> bool {
        self.to_json().is_null()
    }

    /// The node as JSON, scalars by the core schema (YAML 1.2 §10.3).
    pub fn to_json(&self) -> Json {
        match &self.data {
            Data::Given(json) => json.clone(),
            Data::Scalar { text, plain: false } => Json::from(text.as_str()),
            Data::Scalar { text, plain: true } => scalar(text),
            Data::List(items) => items.iter().map(Self::to_json).collect(),
            Data::Map(entries) => {
                let pairs = entries.iter().map(|(k, v)| (k.text().unwrap_or_default().to_owned(), v.to_json()));
                Json::Object(pairs.collect::<Map<_, _>>())
            }
        }
    }

    /// What it is, in words.
    pub fn kind(&self) -> &'static str {
        match &self.data {
            Data::List(_) => "a list",
            Data::Map(_) => "a mapping",
            _ => match self.to_json() {
                Json::Null => "empty",
                Json::Bool(_) => "true or false",
                Json::Number(_) => "a number",
                Json::String(_) => "a text",
                Json::Array(_) => "a list",
                Json::Object(_) => "a mapping",
            },
        }
    }
}

fn scalar(text: &str) -> Json {
    match text {
        "" | "~" | "null" | "Null" | "NULL" => return Json::Null,
        "true" | "True" | "TRUE" => return Json::Bool(true),
        "false" | "False" | "FALSE" => return Json::Bool(false),
        _ => {}
    }
    let digits = text.strip_prefix(['-', '+']).unwrap_or(text);
    if !digits.is_empty()
        && digits.bytes().all(|b| b.is_ascii_digit())
        && let Ok(n) = text.strip_prefix('+').unwrap_or(text).parse::<i64>()
    {
        return Json::from(n);
    }
    if let Some(hex) = text.strip_prefix("0x")
        && let Ok(n) = i64::from_str_radix(hex, 16)
    {
        return Json::from(n);
    }
    let numeric =
        digits.starts_with(|c: char| c.is_ascii_digit() || c == '.') && digits.bytes().all(|b| b.is_ascii_digit() || b".eE+-".contains(&b));
    if numeric
        && let Ok(n) = text.parse::<f64>()
        && let Some(n) = serde_json::Number::from_f64(n)
    {
        return Json::Number(n);
    }
    Json::from(text)
}

/// Deeper nesting than this is refused: no contract needs it, and recursion must end.
const MOST_DEPTH: usize = 64;

/// Reads one document.
///
/// # Errors
/// The first fault of the YAML itself.
pub fn parse(text: &str) -> Result<Node, Fault> {
    // The parser counts in characters.
    let offsets: Vec<usize> = text.char_indices().map(|(i, _)| i).chain([text.len()]).collect();
    let byte = |chars: usize| offsets.get(chars).copied().unwrap_or(text.len());
    let mut stack: Vec<(Node, Option<Node>)> = Vec::new();
    let mut root = None;
    for event in Parser::new_from_str(text) {
        let (event, span) = event.map_err(|e| {
            let at = byte(e.marker().index());
            let length = text[at..].chars().next().map_or(0, char::len_utf8);
            Fault::new(Span::new(at, at + length), format!("this is not YAML: {}", e.info()))
                .help("a text that starts with one of # [ { & * ! | > ' \" % @ ` or that holds `: ` must be quoted")
        })?;
        let span = Span::new(byte(span.start.index()), byte(span.end.index()));
        let done = match event {
            Event::Scalar(value, style, ..) => {
                Some(Node { span, data: Data::Scalar { text: value.into_owned(), plain: style == ScalarStyle::Plain } })
            }
            Event::SequenceStart(..) => {
                stack.push((Node { span, data: Data::List(Vec::new()) }, None));
                None
            }
            Event::MappingStart(..) => {
                stack.push((Node { span, data: Data::Map(Vec::new()) }, None));
                None
            }
            Event::SequenceEnd | Event::MappingEnd => stack.pop().map(|(mut node, _)| {
                node.span.end = span.end.max(node.span.start);
                node
            }),
            Event::Alias(_) => return Err(Fault::new(span, "YAML aliases (`*name`) are not read in contracts: write the value out")),
            _ => None,
        };
        if stack.len() > MOST_DEPTH {
            return Err(Fault::new(span, "this is nested too deep"));
        }
        let Some(node) = done else { continue };
        match stack.last_mut() {
            None => root = Some(node),
            Some((Node { data: Data::List(items), .. }, _)) => items.push(node),
            Some((Node { data: Data::Map(entries), .. }, key)) => match key.take() {
                None => *key = Some(node),
                Some(name) => {
                    if entries.iter().any(|(k, _)| k.text().is_some() && k.text() == name.text()) {
                        return Err(Fault::new(name.span, format!("`{}` stands here twice", name.text().unwrap_or_default())));
                    }
                    entries.push((name, node));
                }
            },
            Some(_) => {}
        }
    }
    root.ok_or_else(|| Fault::new(Span::new(0, 0), "the file is empty").help("write at least `component: ./Name.vue`"))
}

#[cfg(test)]
mod tests {
    use super::*;
    use serde_json::json;

    #[test]
    fn scalars_by_the_core_schema() {
        let node = parse("[1, -2, 0x1F, 1.5, 1e3, true, no, on, ~, \"1\", 'true', a b, 1.2.3, 2031-03-01]").expect("parses");
        assert_eq!(node.to_json(), json!([1, -2, 31, 1.5, 1000.0, true, "no", "on", null, "1", "true", "a b", "1.2.3", "2031-03-01"]));
    }

    #[test]
    fn places_are_bytes() {
        let text = "ä: öß\nb: [x, y]";
        let node = parse(text).expect("parses");
        let b = node.get("b").expect("there");
        assert_eq!(&text[b.span.start..b.span.end], "[x, y]");
        assert_eq!(&text[node.entries()[0].1.span.start..node.entries()[0].1.span.end], "öß");
    }

    #[test]
    fn faults_have_places() {
        for (text, part) in
            [("a: [1", "not YAML"), ("a: 1\na: 2", "twice"), ("", "empty"), ("a: *b", "not YAML"), ("a: &x 1\nb: *x", "aliases")]
        {
            let fault = parse(text).expect_err(text);
            assert!(fault.message.contains(part), "{text}: {}", fault.message);
        }
        assert!(parse(&"[".repeat(500)).is_err());
    }
}
