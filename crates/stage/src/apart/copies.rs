//! Realms in which nothing was played, by copies of the process (POSIX `fork`). To open a realm takes as long as loading what the component
//! imports, seconds with a large framework; a copy of a process that has one open takes milliseconds, and the original never hears of what
//! is played in it.
//!
//! The original waits while a copy answers in its place. A copy ends at the first thing that it is asked that is not about its realm, and
//! hands that back. Where processes cannot be copied a realm is opened each time: the same is seen, later.

use std::io::{self, PipeWriter, Read as _};
use std::sync::atomic::{AtomicBool, Ordering};

use fidelon_core::stage::{Dependencies, Stage as _};
use serde::{Deserialize, Serialize};

use super::wire::{Ask, read, write};
use crate::embedded::Embedded;

/// Whether this system copies processes.
pub(super) const ARE_MADE: bool = cfg!(unix);

/// Whether this process is a copy.
static IS_COPY: AtomicBool = AtomicBool::new(false);

/// What a copy leaves behind.
#[derive(Debug, Serialize, Deserialize)]
pub(super) struct Bequest {
    /// What it was asked and did not answer; none when there is nothing more to read.
    pub(super) ask: Option<Ask>,
    /// What its component reached that the original knows nothing of.
    pub(super) reached: Dependencies,
    /// Whether the system gave it what it needs beside the process: it answers nothing otherwise.
    pub(super) had_room: bool,
}

/// Who goes on after the process was copied.
pub(super) enum Side {
    /// The process as it was, when the copy has ended.
    Original(Bequest),
    /// The copy.
    Copy(Copy),
}

/// A copy, and the way back to its original.
pub(super) struct Copy {
    back: PipeWriter,
    /// How much its component had reached before.
    reached: usize,
}

impl Copy {
    /// Ends it. What it was asked last the original answers.
    pub(super) fn end(self, ask: Option<Ask>, stage: &mut Embedded) -> ! {
        // Most reach nothing while they are played.
        let more = (stage.count_reached() > self.reached).then(|| stage.reached()).flatten();
        self.leave(&Bequest { ask, reached: more.unwrap_or_default(), had_room: true })
    }

    /// Ends it before it has answered anything, because the system gives it no thread.
    pub(super) fn give_up(self, ask: Ask) -> ! {
        self.leave(&Bequest { ask: Some(ask), reached: Dependencies::default(), had_room: false })
    }

    fn leave(mut self, bequest: &Bequest) -> ! {
        let written = write(&mut self.back, bequest);
        system::end(written.is_err())
    }
}

/// Ends this process where it is a copy: its thread came to an end that was none of its own.
pub(super) fn end_if_copied() {
    if IS_COPY.load(Ordering::Relaxed) {
        system::end(true);
    }
}

/// Copies the process. The original comes back when the copy has ended; where that was lost, it ends in the same way.
///
/// # Errors
/// When the system has no room for another process, or copies none: nothing has changed then.
pub(super) fn split(stage: &Embedded) -> io::Result<Side> {
    let (mut from, to) = io::pipe()?;
    match system::copy()? {
        None => {
            IS_COPY.store(true, Ordering::Relaxed);
            Ok(Side::Copy(Copy { back: to, reached: stage.count_reached() }))
        }
        Some(copy) => {
            drop(to);
            let mut bytes = Vec::new();
            let left = from.read_to_end(&mut bytes).ok().and_then(|_| read::<Bequest>(&mut bytes.as_slice()).ok().flatten());
            let ended = system::wait(copy);
            // What it leaves is the last that it does. Without that it was lost.
            Ok(Side::Original(left.unwrap_or_else(|| system::end_as(ended))))
        }
    }
}

#[cfg(unix)]
mod system {
    use std::io;

    use rustix::process::{Pid, Signal, WaitOptions, WaitStatus, getpid, kill_process, waitpid};

    /// Copies this process; none in the copy.
    pub(super) fn copy() -> io::Result<Option<Pid>> {
        // SAFETY: this thread alone goes on in the copy. The only other one that ever runs watches from outside: it allocates, and holds
        // a lock, only while it ends the process.
        match unsafe { libc::fork() } {
            0 => Ok(None),
            pid => Pid::from_raw(pid).filter(|_| pid > 0).map(Some).ok_or_else(io::Error::last_os_error),
        }
    }

    /// Waits for the end of a copy, and gives how it came; none where the system does not keep that.
    pub(super) fn wait(copy: Pid) -> Option<WaitStatus> {
        loop {
            match waitpid(Some(copy), WaitOptions::empty()) {
                Err(rustix::io::Errno::INTR) => {}
                ended => return ended.ok().flatten().map(|(_, status)| status),
            }
        }
    }

    /// Ends this process as a copy of it that was lost: who asked waits for an answer that never comes, and is told so what became of it.
    pub(super) fn end_as(copy: Option<WaitStatus>) -> ! {
        if let Some(signal) = copy.and_then(|status| status.terminating_signal()).and_then(Signal::from_named_raw) {
            let _ = kill_process(getpid(), signal);
        }
        std::process::abort()
    }

    /// Ends a copy.
    pub(super) fn end(is_lost: bool) -> ! {
        // SAFETY: ends the process and runs nothing: what stands in its memory is the original's to put in order.
        unsafe { libc::_exit(i32::from(is_lost)) }
    }
}

#[cfg(not(unix))]
mod system {
    use std::io;

    /// No process is ever copied.
    pub(super) enum Copied {}

    pub(super) fn copy() -> io::Result<Option<Copied>> {
        Err(io::ErrorKind::Unsupported.into())
    }

    pub(super) fn wait(copy: Copied) -> Copied {
        copy
    }

    pub(super) fn end_as(copy: Copied) -> ! {
        match copy {}
    }

    pub(super) fn end(is_lost: bool) -> ! {
        std::process::exit(i32::from(is_lost))
    }
}
