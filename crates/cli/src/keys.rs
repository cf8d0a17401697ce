//! Keys of a person while something goes on: single ones on a terminal, lines elsewhere.

use std::io::{BufRead as _, IsTerminal as _, Read as _};
use std::sync::mpsc::Sender;

use fidelon_run::watching::Woken;

use crate::setting;

/// What was asked for.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Key {
    /// A single key; a line break is `\n`.
    Plain(char),
    /// Only these.
    Filter(String),
}

/// Sends keys until nobody listens or there are no more; gives what sets the terminal right again.
pub fn listen(to: Sender<Woken<Key>>) -> Restore {
    let restore = Restore::take();
    let is_terminal = restore.is_terminal();
    std::thread::spawn(move || if is_terminal { single(&to) } else { lines(&to) });
    restore
}

fn single(to: &Sender<Woken<Key>>) {
    let mut byte = [0u8];
    while std::io::stdin().lock().read(&mut byte).is_ok_and(|n| n > 0) {
        let key = if byte[0] == b'f' {
            setting::print("show only components with these words (all: Enter): ");
            Restore::cooked();
            let mut line = String::new();
            let _ = std::io::stdin().lock().read_line(&mut line);
            Restore::by_key();
            Key::Filter(line.trim().to_owned())
        } else {
            Key::Plain(if byte[0] == b'\r' { '\n' } else { char::from(byte[0]) })
        };
        if to.send(Woken::Told(key)).is_err() {
            return;
        }
    }
}

/// `f words`, `a`, an empty line.
fn lines(to: &Sender<Woken<Key>>) {
    for line in std::io::stdin().lock().lines().map_while(Result::ok) {
        let line = line.trim();
        let key = match line.strip_prefix('f') {
            Some(words) => Key::Filter(words.trim().to_owned()),
            None => Key::Plain(line.chars().next().unwrap_or('\n')),
        };
        if to.send(Woken::Told(key)).is_err() {
            return;
        }
    }
}

/// Sets the terminal right again when it is dropped.
#[derive(Debug)]
pub struct Restore {
    #[cfg(unix)]
    before: Option<rustix::termios::Termios>,
}

#[cfg(unix)]
impl Restore {
    fn take() -> Self {
        let before = if std::io::stdin().is_terminal() { rustix::termios::tcgetattr(std::io::stdin()).ok() } else { None };
        if before.is_some() {
            Self::by_key();
        }
        Self { before }
    }

    fn is_terminal(&self) -> bool {
        self.before.is_some()
    }

    /// Each key is told at once and not shown; what ends a program still ends it.
    fn by_key() {
        Self::change(|modes| modes.remove(rustix::termios::LocalModes::ICANON | rustix::termios::LocalModes::ECHO));
    }

    fn cooked() {
        Self::change(|modes| modes.insert(rustix::termios::LocalModes::ICANON | rustix::termios::LocalModes::ECHO));
    }

    fn change(change: impl Fn(&mut rustix::termios::LocalModes)) {
        if let Ok(mut now) = rustix::termios::tcgetattr(std::io::stdin()) {
            change(&mut now.local_modes);
            let _ = rustix::termios::tcsetattr(std::io::stdin(), rustix::termios::OptionalActions::Now, &now);
        }
    }
}

#[cfg(unix)]
impl Drop for Restore {
    fn drop(&mut self) {
        if let Some(before) = &self.before {
            let _ = rustix::termios::tcsetattr(std::io::stdin(), rustix::termios::OptionalActions::Now, before);
        }
    }
}

#[cfg(not(unix))]
impl Restore {
    fn take() -> Self {
        Self {}
    }

    fn is_terminal(&self) -> bool {
        false
    }

    fn by_key() {}

    fn cooked() {}
}
