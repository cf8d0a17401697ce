//! A text that is typed in: its lines, and places in it as the protocol counts them.

use std::sync::Arc;

use lsp_types::{Position, PositionEncodingKind, Range, TextDocumentContentChangeEvent};

/// What columns of the protocol count (Language Server Protocol 3.17, `PositionEncodingKind`).
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub(crate) enum Columns {
    /// Bytes of UTF-8.
    Bytes,
    /// Units of UTF-16, what every client knows.
    #[default]
    Units,
}

impl Columns {
    /// The first that a client prefers and that is known here.
    pub(crate) fn preferred(by: &[PositionEncodingKind]) -> Self {
        let known = |kind: &PositionEncodingKind| match kind.as_str() {
            "utf-8" => Some(Self::Bytes),
            "utf-16" => Some(Self::Units),
            _ => None,
        };
        by.iter().find_map(known).unwrap_or_default()
    }

    pub(crate) fn kind(self) -> PositionEncodingKind {
        match self {
            Self::Bytes => PositionEncodingKind::UTF8,
            Self::Units => PositionEncodingKind::UTF16,
        }
    }
}

/// A text with the starts of its lines.
#[derive(Debug, Clone)]
pub(crate) struct Text {
    text: Arc<str>,
    starts: Vec<usize>,
    columns: Columns,
}

impl Text {
    pub(crate) fn new(text: &str, columns: Columns) -> Self {
        let starts = std::iter::once(0).chain(text.match_indices('\n').map(|(at, _)| at + 1)).collect();
        Self { text: text.into(), starts, columns }
    }

    pub(crate) fn all(&self) -> &str {
        &self.text
    }

    /// The text, to be held by others.
    pub(crate) fn shared(&self) -> Arc<str> {
        self.text.clone()
    }

    /// A line without its end; empty where there is none. Lines are counted from 0.
    pub(crate) fn line(&self, number: u32) -> &str {
        let number = number as usize;
        let Some(start) = self.starts.get(number) else { return "" };
        let end = self.starts.get(number + 1).map_or(self.text.len(), |next| next - 1);
        self.text[*start..end].trim_end_matches('\r')
    }

    pub(crate) fn lines(&self) -> u32 {
        u32::try_from(self.starts.len()).unwrap_or(u32::MAX)
    }

    /// The byte at a position. One beyond the end of a line is the end of that line, as the protocol has it.
    pub(crate) fn offset(&self, at: Position) -> usize {
        let Some(start) = self.starts.get(at.line as usize) else { return self.text.len() };
        start + self.within(self.line(at.line), at.character)
    }

    /// The byte of a line at a column of the protocol.
    fn within(&self, line: &str, column: u32) -> usize {
        let column = column as usize;
        match self.columns {
            Columns::Bytes => line.floor_char_boundary(column.min(line.len())),
            Columns::Units => {
                let mut units = 0;
                for (at, c) in line.char_indices() {
                    if units >= column {
                        return at;
                    }
                    units += c.len_utf16();
                }
                line.len()
            }
        }
    }

    /// The position of a byte.
    pub(crate) fn position(&self, offset: usize) -> Position {
        let offset = self.text.floor_char_boundary(offset.min(self.text.len()));
        let line = self.starts.partition_point(|start| *start <= offset).saturating_sub(1);
        let before = &self.text[self.starts[line]..offset];
        let character = match self.columns {
            Columns::Bytes => before.len(),
            Columns::Units => before.encode_utf16().count(),
        };
        let number = |n: usize| u32::try_from(n).unwrap_or(u32::MAX);
        Position::new(number(line), number(character))
    }

    /// The range of two bytes.
    pub(crate) fn range(&self, start: usize, end: usize) -> Range {
        Range::new(self.position(start), self.position(end))
    }

    /// The byte at a line and a column in characters, both counted from 1, as places are.
    pub(crate) fn offset_of_place(&self, line: u32, column: u32) -> usize {
        let Some(start) = self.starts.get((line.saturating_sub(1)) as usize) else { return self.text.len() };
        let text = self.line(line.saturating_sub(1));
        let skipped = column.saturating_sub(1) as usize;
        start + text.char_indices().nth(skipped).map_or(text.len(), |(at, _)| at)
    }

    /// What stands at a place: a name, or else the rest of the line.
    pub(crate) fn range_of_place(&self, line: u32, column: u32) -> Range {
        let start = self.offset_of_place(line, column);
        let rest = self.text[start..].lines().next().unwrap_or_default();
        let name = rest.find(|c: char| !is_of_name(c)).unwrap_or(rest.len());
        let length = if name > 0 { name } else { rest.trim_end().len() };
        self.range(start, start + length)
    }

    /// The name around a position, with its bytes.
    pub(crate) fn name_at(&self, at: Position) -> Option<(&str, usize, usize)> {
        let offset = self.offset(at);
        let line = self.line(at.line);
        let line_start = *self.starts.get(at.line as usize)?;
        let within = offset - line_start;
        let start = line[..within].rfind(|c: char| !is_of_name(c)).map_or(0, |at| at + line[at..].chars().next().map_or(1, char::len_utf8));
        let end = within + line[within..].find(|c: char| !is_of_name(c)).unwrap_or(line.len() - within);
        (start < end).then(|| (&line[start..end], line_start + start, line_start + end))
    }

    /// The text after changes that a client made, in its order.
    pub(crate) fn changed(&self, changes: Vec<TextDocumentContentChangeEvent>) -> Self {
        let mut now = self.clone();
        for change in changes {
            now = match change.range {
                None => Self::new(&change.text, self.columns),
                Some(range) => {
                    let (start, end) = (now.offset(range.start), now.offset(range.end));
                    let (start, end) = (start.min(end), start.max(end));
                    let text = [&now.text[..start], change.text.as_str(), &now.text[end..]].concat();
                    Self::new(&text, self.columns)
                }
            };
        }
        now
    }
}

/// What names of props, slots, events and laws are made of.
fn is_of_name(c: char) -> bool {
    c.is_alphanumeric() || matches!(c, '_' | '$' | '-')
}

#[cfg(test)]
mod tests {
    use super::*;

    fn change(range: Option<Range>, text: &str) -> TextDocumentContentChangeEvent {
        TextDocumentContentChangeEvent { range, range_length: None, text: text.into() }
    }

    #[test]
    fn columns_are_counted_as_the_client_counts() {
        let line = "a𝒢ö kiln";
        let (bytes, units) = (Text::new(line, Columns::Bytes), Text::new(line, Columns::Units));
        let kiln = line.find("kiln").unwrap_or(0);
        assert_eq!(units.position(kiln), Position::new(0, 5));
        assert_eq!(bytes.position(kiln), Position::new(0, 8));
        assert_eq!(units.offset(Position::new(0, 5)), kiln);
        assert_eq!(bytes.offset(Position::new(0, 8)), kiln);
        // Within a character, and beyond the line.
        assert_eq!(bytes.offset(Position::new(0, 2)), 1);
        assert_eq!(units.offset(Position::new(0, 99)), line.len());
        assert_eq!(Columns::preferred(&[PositionEncodingKind::UTF32, PositionEncodingKind::UTF8]), Columns::Bytes);
        assert_eq!(Columns::preferred(&[]), Columns::Units);
    }

    #[test]
    fn changes_are_made_in_their_order() {
        let text = Text::new("one\r\ntwo\nthree", Columns::Units);
        let range = |a, b, c, d| Some(Range::new(Position::new(a, b), Position::new(c, d)));
        let now = text.changed(vec![change(range(0, 3, 1, 0), " "), change(range(0, 0, 0, 0), "ü")]);
        assert_eq!(now.all(), "üone two\nthree".replace("\r", ""));
        assert_eq!(now.changed(vec![change(None, "all")]).all(), "all");
        assert_eq!((text.line(0), text.line(2), text.line(9), text.lines()), ("one", "three", "", 3));
    }

    #[test]
    fn a_place_covers_the_name_that_stands_there() {
        let text = Text::new("<Dial\n  :step-size=\"3\" />", Columns::Units);
        assert_eq!(text.range_of_place(2, 4), Range::new(Position::new(1, 3), Position::new(1, 12)));
        assert_eq!(text.range_of_place(1, 1), Range::new(Position::new(0, 0), Position::new(0, 5)));
        assert_eq!(text.name_at(Position::new(1, 5)).map(|(name, ..)| name), Some("step-size"));
        assert_eq!(text.name_at(Position::new(1, 2)), None);
    }
}
