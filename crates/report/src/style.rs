//! Colour on a terminal, none elsewhere.

/// How text is coloured.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Style {
    /// True for escape sequences.
    pub colour: bool,
    /// Columns that a line may have.
    pub width: usize,
}

impl Style {
    fn wrap(self, code: &str, text: &str) -> String {
        if self.colour { format!("\u{1b}[{code}m{text}\u{1b}[0m") } else { text.to_owned() }
    }
    /// What broke.
    pub fn bad(self, text: &str) -> String {
        self.wrap("1;31", text)
    }
    /// What holds.
    pub fn good(self, text: &str) -> String {
        self.wrap("32", text)
    }
    /// What could not be judged.
    pub fn open(self, text: &str) -> String {
        self.wrap("1;33", text)
    }
    /// What matters less.
    pub fn quiet(self, text: &str) -> String {
        self.wrap("2", text)
    }
    /// What matters.
    pub fn strong(self, text: &str) -> String {
        self.wrap("1", text)
    }

    /// Breaks a text at words; each line after the first starts with `indent` spaces. Lines of the text itself stay lines, empty ones go.
    pub fn fold(self, text: &str, indent: usize) -> String {
        let lines: Vec<String> = text.lines().filter(|l| !l.trim().is_empty()).map(|l| self.fold_line(l, indent)).collect();
        lines.join(&format!("\n{}", " ".repeat(indent)))
    }

    fn fold_line(self, text: &str, indent: usize) -> String {
        use unicode_width::UnicodeWidthStr as _;
        let room = self.width.max(indent + 20);
        let mut out = String::new();
        let mut at = indent;
        for word in text.split(' ') {
            let width = word.width();
            if at > indent && at + 1 + width > room {
                out.push('\n');
                out.push_str(&" ".repeat(indent));
                at = indent;
            } else if at > indent {
                out.push(' ');
                at += 1;
            }
            out.push_str(word);
            at += width;
        }
        out
    }
}
