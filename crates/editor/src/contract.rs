//! Where somebody is in a contract: the keys above the cursor, read line by line, since what is being typed is seldom whole.

use lsp_types::Position;

use crate::text::Text;

/// A way down into a contract.
#[derive(Debug, Clone, PartialEq, Eq)]
pub(crate) enum Step {
    /// The value of a key.
    Key(String),
    /// An item of a list.
    Item,
}

/// What is being typed.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum Typed {
    /// The name of a key.
    Key,
    /// A value.
    Value,
}

/// Where a cursor is.
#[derive(Debug, Clone, PartialEq, Eq)]
pub(crate) struct Cursor {
    /// Down to the map or the list that the cursor is in; for a value, to the value.
    pub(crate) path: Vec<Step>,
    pub(crate) typed: Typed,
}

impl Cursor {
    /// The keys of the path, without items.
    pub(crate) fn keys(&self) -> Vec<&str> {
        self.path
            .iter()
            .filter_map(|step| match step {
                Step::Key(key) => Some(key.as_str()),
                Step::Item => None,
            })
            .collect()
    }
}

/// A line of a contract: where its dashes stand, its key with the column of it, and what follows.
struct Line<'a> {
    dashes: Vec<usize>,
    column: usize,
    key: Option<&'a str>,
    rest: &'a str,
}

impl<'a> Line<'a> {
    fn read(line: &'a str) -> Self {
        let mut column = line.len() - line.trim_start().len();
        let mut dashes = Vec::new();
        while let Some(after) = line[column..].strip_prefix('-') {
            if !after.is_empty() && !after.starts_with(' ') {
                break;
            }
            dashes.push(column);
            column += 1 + (after.len() - after.trim_start().len());
        }
        let content = &line[column..];
        let (key, rest) = match content.split_once(':') {
            Some((key, rest)) if !key.is_empty() && (rest.is_empty() || rest.starts_with(' ')) && !key.contains(['{', '[', ' ']) => {
                (Some(key.trim_matches(['"', '\''])), rest)
            }
            _ => (None, content),
        };
        Self { dashes, column, key, rest }
    }

    fn is_blank(&self) -> bool {
        self.key.is_none() && self.dashes.is_empty() && (self.rest.is_empty() || self.rest.starts_with('#'))
    }

    /// Whether what follows the key stands on the lines below.
    fn is_open(&self) -> bool {
        let rest = self.rest.trim();
        rest.is_empty() || rest.starts_with('#')
    }
}

/// Where a position is; the text after it does not count.
pub(crate) fn cursor(text: &Text, at: Position) -> Cursor {
    let start = text.offset(Position::new(at.line, 0));
    let before = &text.all()[start..text.offset(at)];
    let line = Line::read(before);
    let mut within: Vec<Step> = Vec::new();
    let typed = flow(line.key, line.rest, &mut within);
    // From the line upwards, each found above what is known already.
    let mut above: Vec<Step> = Vec::new();
    let mut column = line.column;
    let mut of_item = false;
    for dash in line.dashes.iter().rev() {
        above.push(Step::Item);
        (column, of_item) = (*dash, true);
    }
    for number in (0..at.line).rev() {
        if column == 0 && !of_item {
            break;
        }
        let line = Line::read(text.line(number));
        if line.is_blank() {
            continue;
        }
        let is_parent = line.key.is_some() && line.is_open() && (line.column < column || of_item && line.column == column);
        let is_sibling = line.column == column && !of_item;
        if let Some(key) = line.key.filter(|_| is_parent) {
            above.push(Step::Key(key.to_owned()));
            (column, of_item) = (line.column, false);
        } else if !is_sibling {
            continue;
        }
        let own = column;
        for dash in line.dashes.iter().rev().filter(|dash| **dash < own) {
            above.push(Step::Item);
            (column, of_item) = (*dash, true);
        }
    }
    above.reverse();
    above.extend(within);
    Cursor { path: above, typed }
}

/// A map or a list in braces that is open still.
enum Frame {
    Map(Option<String>),
    List,
}

/// What is open at the end of the value of a key, written on one line: `{ press: button, ti`.
fn flow(key: Option<&str>, rest: &str, path: &mut Vec<Step>) -> Typed {
    let mut frames: Vec<Frame> = Vec::new();
    let (mut word, mut quote) = (String::new(), None);
    for c in rest.chars() {
        match (quote, c) {
            (Some(open), _) if c == open => quote = None,
            (Some(_), _) => word.push(c),
            (None, '"' | '\'') => quote = Some(c),
            (None, '{') => frames.push(Frame::Map(None)),
            (None, '[') => frames.push(Frame::List),
            (None, '}' | ']') => drop(frames.pop()),
            (None, ',') => {
                if let Some(Frame::Map(key)) = frames.last_mut() {
                    *key = None;
                }
            }
            (None, ':') => {
                if let Some(Frame::Map(key)) = frames.last_mut()
                    && key.is_none()
                {
                    *key = Some(word.trim().to_owned());
                }
            }
            (None, _) => {
                word.push(c);
                continue;
            }
        }
        if quote.is_none() {
            word.clear();
        }
    }
    path.extend(key.map(|key| Step::Key(key.to_owned())));
    let mut typed = if key.is_some() { Typed::Value } else { Typed::Key };
    for frame in frames {
        (typed, _) = match frame {
            Frame::Map(None) => (Typed::Key, ()),
            Frame::Map(Some(key)) => (Typed::Value, path.push(Step::Key(key))),
            Frame::List => (Typed::Value, path.push(Step::Item)),
        };
    }
    typed
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::text::Columns;

    /// Where `|` stands in a text.
    fn at(text: &str) -> (Vec<String>, Typed) {
        let offset = text.find('|').expect("a cursor");
        let text = Text::new(&text.replacen('|', "", 1), Columns::Units);
        let found = cursor(&text, text.position(offset));
        let path = found.path.iter().map(|step| match step {
            Step::Key(key) => key.clone(),
            Step::Item => "-".into(),
        });
        (path.collect(), found.typed)
    }

    #[test]
    fn the_keys_above_are_found_in_what_is_not_whole() {
        let head = "component: ./KilnDial.vue\nprops:\n  unit: all\nclauses:\n  - clause: raising reports\n    do:\n      - press: button\n        times: 2\n";
        for (typed, path, what) in [
            ("|", &[] as &[&str], Typed::Key),
            ("na|", &[], Typed::Key),
            ("cover: |", &["cover"], Typed::Value),
            ("    ex|", &["clauses", "-"], Typed::Key),
            ("    expect:\n      - te|", &["clauses", "-", "expect", "-"], Typed::Key),
            ("    expect:\n      - text: bu|", &["clauses", "-", "expect", "-", "text"], Typed::Value),
            ("    expect:\n      - text: .label\n        |", &["clauses", "-", "expect", "-"], Typed::Key),
            ("        pa|", &["clauses", "-", "do", "-"], Typed::Key),
            ("    expect:\n    - present: x\n      |", &["clauses", "-", "expect", "-"], Typed::Key),
            ("    expect: [{ text: .a, is: 1 }, { co|", &["clauses", "-", "expect", "-"], Typed::Key),
            ("    expect: [{ text: .a, is: |", &["clauses", "-", "expect", "-", "is"], Typed::Value),
            ("    hold: { unit: F, |", &["clauses", "-", "hold"], Typed::Key),
            ("    hold:\n      |", &["clauses", "-", "hold"], Typed::Key),
            ("  - |", &["clauses", "-"], Typed::Key),
            ("laws:\n  prop/live:\n    |", &["laws", "prop/live"], Typed::Key),
        ] {
            let (found, kind) = at(&format!("{head}{typed}"));
            assert_eq!((found.iter().map(String::as_str).collect::<Vec<_>>().as_slice(), kind), (path, what), "{typed}");
        }
    }
}
