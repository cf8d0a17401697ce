//! A process that plays components, as who asks sees it.

use std::io::{self, BufReader, Read};
use std::path::Path;
use std::process::{Child, ChildStdin, ChildStdout, Command, Stdio};

use fidelon_core::UnjudgedCause;
use fidelon_core::stage::StageError;

use super::wire::{Answer, Ask, HeardTexts, Parcel, Setup, read, write};
use super::worker::{ARGUMENT, NO_ROOM};
use crate::embedded::Options;

/// The process and its two ends.
pub(super) struct Process {
    child: Child,
    to: ChildStdin,
    from: BufReader<ChildStdout>,
    texts: HeardTexts,
}

impl Process {
    /// Starts a worker.
    pub(super) fn start(program: &Path, options: &Options) -> Result<Self, StageError> {
        let failed = |e: io::Error| StageError::lost(format!("the process that plays components cannot be started: {e}"));
        let mut child = Command::new(program)
            .arg(ARGUMENT)
            .env("RUST_BACKTRACE", "0")
            .stdin(Stdio::piped())
            .stdout(Stdio::piped())
            // Read when it has ended; it says nothing before.
            .stderr(Stdio::piped())
            .spawn()
            .map_err(failed)?;
        let ends = child.stdin.take().zip(child.stdout.take());
        let (mut to, from) = ends.ok_or_else(|| failed(io::Error::other("it has no input or output")))?;
        write(&mut to, &Setup::from(options)).map_err(failed)?;
        Ok(Self { child, to, from: BufReader::new(from), texts: HeardTexts::default() })
    }

    pub(super) fn send(&mut self, ask: &Ask) -> Result<(), StageError> {
        write(&mut self.to, ask).map_err(|_| self.ended())
    }

    pub(super) fn receive(&mut self) -> Result<Answer, StageError> {
        match read::<Parcel>(&mut self.from) {
            Ok(Some(parcel)) => {
                self.texts.unpack(parcel).ok_or_else(|| StageError::protocol("the stage spoke of a text that it never sent"))
            }
            Ok(None) => Err(self.ended()),
            Err(e) if e.kind() == io::ErrorKind::UnexpectedEof => Err(self.ended()),
            Err(e) => Err(StageError::protocol(format!("the answer of the stage cannot be read: {e}"))),
        }
    }

    /// Why the process is gone.
    fn ended(&mut self) -> StageError {
        // It may have closed its end without being gone.
        let _ = self.child.kill();
        let status = self.child.wait();
        if status.as_ref().is_ok_and(|s| s.code() == Some(NO_ROOM)) {
            return StageError::lost("the system gives the process that plays components no thread: too many run at once");
        }
        let mut said = Vec::new();
        if let Some(stderr) = self.child.stderr.take() {
            let _ = stderr.take(16 << 10).read_to_end(&mut said);
        }
        let said = String::from_utf8_lossy(&said);
        StageError::Unjudged(cause(&said, &status.map_or_else(|e| e.to_string(), |s| s.to_string())).into())
    }
}

/// What ended a process, from its last words and how the system says it ended.
fn cause(said: &str, status: &str) -> UnjudgedCause {
    if said.contains("has overflowed its stack") {
        return UnjudgedCause::Crashed("stack overflow".into());
    }
    if let Some((_, panic)) = said.split_once("panicked at ") {
        let lines: Vec<&str> = panic.lines().take_while(|line| !line.starts_with("note:")).collect();
        return UnjudgedCause::Fault(lines.join(" "));
    }
    UnjudgedCause::Crashed(status.to_owned())
}

impl Drop for Process {
    fn drop(&mut self) {
        // It holds nothing that must be put in order, and nobody waits for what it is at.
        let _ = self.child.kill();
        let _ = self.child.wait();
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_last_words_tell_what_ended_it() {
        let overflow = "\nthread 'stage' (12) has overflowed its stack\nfatal runtime error: stack overflow, aborting\n";
        let panic =
            "\nthread 'stage' (12) panicked at crates/dom/src/tree.rs:165:9:\nindex out of bounds\nnote: run with `RUST_BACKTRACE=1`\n";
        for (said, wanted) in [
            (overflow, UnjudgedCause::Crashed("stack overflow".into())),
            (panic, UnjudgedCause::Fault("crates/dom/src/tree.rs:165:9: index out of bounds".into())),
            ("", UnjudgedCause::Crashed("signal: 9 (SIGKILL)".into())),
        ] {
            assert_eq!(cause(said, "signal: 9 (SIGKILL)"), wanted);
        }
    }
}
