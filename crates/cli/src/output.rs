//! What reaches standard output and standard error. Texts of components, of files and of errors come through here, so a terminal is moved by
//! none of them, and none is taken for a command by a service that reads the log.

use std::borrow::Cow;
use std::io::{ErrorKind, Write as _};
use std::sync::Mutex;
use std::sync::atomic::{AtomicBool, Ordering};

/// Whether the escape sequences that set colours are ours.
static COLOUR: AtomicBool = AtomicBool::new(false);

/// Why standard output could not be written, once it could not.
static FAILED: Mutex<Option<String>> = Mutex::new(None);

/// From now on sequences that set colours are let through.
pub fn allow_colour(allowed: bool) {
    COLOUR.store(allowed, Ordering::Relaxed);
}

/// Prints text for people.
pub fn print(text: &str) {
    put(&harmless(text, COLOUR.load(Ordering::Relaxed)));
}

/// Prints what a program reads, as it is.
pub fn print_data(text: &str) {
    put(text);
}

/// Prints lines that a service takes for commands, each of them ours.
pub fn print_commands(text: &str) {
    put(&without_controls(text, false));
}

/// Tells something beside what was asked for.
pub fn note(text: &str) {
    let _ = writeln!(std::io::stderr().lock(), "{}", harmless(text, false));
}

/// Why something that was printed was lost.
pub fn failure() -> Option<String> {
    FAILED.lock().ok()?.clone()
}

fn put(text: &str) {
    let mut out = std::io::stdout().lock();
    // A reader that went away is no error of ours.
    if let Err(error) = out.write_all(text.as_bytes()).and_then(|()| out.flush())
        && error.kind() != ErrorKind::BrokenPipe
        && let Ok(mut failed) = FAILED.lock()
    {
        failed.get_or_insert(error.to_string());
    }
}

/// The text with a picture in the place of each control character (Unicode's Control Pictures), but for line ends, tabs, and where they
/// are ours the sequences that set colours. A line that services take for a command (`::error`, `##[error]`) is none with a mark before it.
fn harmless(text: &str, colour: bool) -> Cow<'_, str> {
    let text = without_controls(text, colour);
    let is_command = |line: &str| line.trim_start().starts_with("::") || line.trim_start().starts_with("##[");
    if !text.lines().any(is_command) {
        return text;
    }
    text.split_inclusive('\n').map(|line| if is_command(line) { format!("· {line}") } else { line.to_owned() }).collect::<String>().into()
}

fn without_controls(text: &str, colour: bool) -> Cow<'_, str> {
    if !text.chars().any(is_control) {
        return text.into();
    }
    let mut out = String::with_capacity(text.len());
    let mut rest = text;
    while let Some(c) = rest.chars().next() {
        let sequence = if colour && c == '\u{1b}' { colours(rest) } else { None };
        let length = sequence.unwrap_or(c.len_utf8());
        match (sequence, is_control(c)) {
            (None, true) => out.push(picture(c)),
            _ => out.push_str(&rest[..length]),
        }
        rest = &rest[length..];
    }
    out.into()
}

fn is_control(c: char) -> bool {
    c.is_control() && c != '\n' && c != '\t'
}

/// The length of a sequence that sets colours, at the start of a text: `ESC [ 1 ; 31 m`.
fn colours(text: &str) -> Option<usize> {
    let numbers = text.strip_prefix("\u{1b}[")?;
    let length = numbers.bytes().take_while(|b| b.is_ascii_digit() || *b == b';').count();
    (length <= 8 && numbers[length..].starts_with('m')).then_some(length + 3)
}

fn picture(c: char) -> char {
    match c {
        '\u{7f}' => '␡',
        '\0'..='\u{1f}' => char::from_u32(0x2400 + u32::from(c)).unwrap_or('�'),
        _ => '�',
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn nothing_moves_a_terminal_or_commands_a_service() {
        for (text, plain) in [
            ("kiln\tat 600\n", "kiln\tat 600\n"),
            ("boom \u{1b}[2J\u{7}\u{9b}2K", "boom ␛[2J␇�2K"),
            ("a\r\n::error file=x::pwned\n", "a␍\n· ::error file=x::pwned\n"),
            ("  ##[error]x\n", "·   ##[error]x\n"),
            ("std::env is fine", "std::env is fine"),
            ("\u{1b}[31mred\u{1b}[0m", "␛[31mred␛[0m"),
        ] {
            assert_eq!(harmless(text, false), plain);
        }
        assert_eq!(harmless("\u{1b}[1;31mred\u{1b}[0m \u{1b}[2J \u{1b}]0;x\u{7}", true), "\u{1b}[1;31mred\u{1b}[0m ␛[2J ␛]0;x␇");
    }
}
