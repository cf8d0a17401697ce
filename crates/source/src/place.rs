//! Pieces of a text, by byte and by line.

use serde::{Deserialize, Serialize};

/// A piece of a text: byte offsets, end exclusive.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Hash, PartialOrd, Ord, Serialize, Deserialize)]
pub struct Span {
    /// The first byte.
    pub start: usize,
    /// The byte after the last.
    pub end: usize,
}

impl Span {
    /// The piece from `start` to `end`.
    pub fn new(start: usize, end: usize) -> Self {
        Self { start, end: end.max(start) }
    }
}

/// A line and a column of a file, both counted from 1; columns in characters.
#[derive(Debug, Clone, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, Deserialize)]
pub struct Place {
    /// The file, as the person knows it: relative to the project where it lies within.
    pub file: String,
    /// The line.
    pub line: u32,
    /// The column.
    pub column: u32,
}

impl std::fmt::Display for Place {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        write!(f, "{}:{}:{}", self.file, self.line, self.column)
    }
}

/// The line and column of a byte offset, counted from 1.
pub fn place_of(text: &str, offset: usize) -> (u32, u32) {
    let before = &text[..text.floor_char_boundary(offset.min(text.len()))];
    let line = before.matches('\n').count() + 1;
    let column = before.rsplit('\n').next().unwrap_or("").chars().count() + 1;
    (u32::try_from(line).unwrap_or(u32::MAX), u32::try_from(column).unwrap_or(u32::MAX))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn columns_count_characters() {
        let text = "glaze\nöß kiln";
        assert_eq!(place_of(text, 0), (1, 1));
        assert_eq!(place_of(text, text.find("kiln").unwrap_or(0)), (2, 4));
        assert_eq!(place_of(text, 999), (2, 8));
    }
}
