//! The process that plays components: it reads what it is asked from its standard input and answers on its standard output, until there is
//! no more to read.
//!
//! One thread plays. Another watches it from outside: it ends the process when what is played has taken too much processor time, or memory,
//! and when whoever started it is gone.

use std::io::{self, BufReader};
use std::time::Duration;

use fidelon_core::{Unjudged, UnjudgedCause};
use fidelon_engine::activity::Board;
use fidelon_engine::allocation;

use super::answer_of;
use super::copies::{self, Bequest, Copy, Side};
use super::wire::{Answer, Ask, SentTexts, Setup, read, write};
use crate::STACK;
use crate::embedded::{Embedded, Options};

/// What a program is started with to be a worker.
pub const ARGUMENT: &str = "--play-components";

/// What it ends with where the system gives it no thread: an error of the system, as `sysexits.h` of the BSDs counts them.
pub(super) const NO_ROOM: i32 = 71;

/// How often the watching thread looks.
const LOOK: Duration = Duration::from_millis(20);

/// Plays components and ends the process when this program was started for that; else does nothing. A program that has itself for a worker
/// calls this before anything else.
pub fn serve_if_asked() {
    if std::env::args_os().nth(1).is_none_or(|argument| argument != ARGUMENT) {
        return;
    }
    let play = || {
        let served = std::panic::catch_unwind(serve);
        copies::end_if_copied();
        served.unwrap_or_else(|_| Err(io::ErrorKind::Other.into()))
    };
    let playing = std::thread::Builder::new().name("stage".into()).stack_size(STACK).spawn(play);
    // Who asks is told by the end of the output, and reads the rest from the error stream.
    let code = match playing.map(std::thread::JoinHandle::join) {
        Ok(Ok(Ok(Served::Whole))) => 0,
        Err(_) | Ok(Ok(Ok(Served::WithoutRoom))) => NO_ROOM,
        _ => 1,
    };
    std::process::exit(code);
}

/// How serving ended.
enum Served {
    /// There was no more to read.
    Whole,
    /// The system gives no thread that watches, and nothing is played unwatched.
    WithoutRoom,
}

fn serve() -> io::Result<Served> {
    let mut from = BufReader::new(io::stdin().lock());
    let Some(setup) = read::<Setup>(&mut from)? else { return Ok(Served::Whole) };
    let options = Options::from(setup);
    let memory_mib = options.limits.memory_mib;
    let root = format!("{}/", options.root.display());
    if watch(memory_mib, root.clone()).is_err() {
        return Ok(Served::WithoutRoom);
    }
    // What a component causes, in scripts or in what is done for them, may be as much as its memory; what is ready is none of it.
    let limited = Limited(memory_mib << 20);
    let mut stage = Embedded::new(options);
    let mut texts = SentTexts::default();
    let mut copy: Option<Copy> = None;
    // Where processes are not copied, or there is no room for more of them, cases share a realm here, and one is opened when it is asked for.
    let mut are_copied = copies::ARE_MADE;
    let mut handed_back: Option<Ask> = None;
    loop {
        let ask = handed_back.take().map_or_else(|| read::<Ask>(&mut from), |ask| Ok(Some(ask)))?;
        if let Some(copy) = copy.take_if(|_| !ask.as_ref().is_some_and(|ask| is_of_its_realm(ask, &stage))) {
            copy.end(ask, &mut stage);
        }
        let Some(ask) = ask else { return Ok(Served::Whole) };
        if are_copied && copy.is_none() && is_of_a_realm(&ask, &stage) && limited.of(|| stage.lie_unused()) {
            match copies::split(&stage) {
                Ok(Side::Original(Bequest { ask, reached, had_room })) => {
                    are_copied = had_room;
                    stage.reach(reached);
                    handed_back = ask;
                    continue;
                }
                Ok(Side::Copy(own)) => {
                    if watch(memory_mib, root.clone()).is_err() {
                        own.give_up(ask);
                    }
                    copy = Some(own);
                }
                Err(_) => are_copied = false,
            }
        }
        if let Some(parcel) = limited.of(|| answer_of(&mut stage, ask).map(|answer| texts.pack(answer))) {
            write(&mut io::stdout().lock(), &parcel)?;
        }
    }
}

/// Whether something is asked that is of a realm alone.
fn is_of_a_realm(ask: &Ask, stage: &Embedded) -> bool {
    matches!(ask, Ask::Renew | Ask::Play(_)) && stage.may_be_copied()
}

/// Whether a copy answers this: it is asked of the realm that it has, and that is not worn.
fn is_of_its_realm(ask: &Ask, stage: &Embedded) -> bool {
    matches!(ask, Ask::Dependencies) || matches!(ask, Ask::Play(_)) && !stage.is_worn()
}

/// So many bytes may be taken.
struct Limited(usize);

impl Limited {
    fn of<T>(&self, work: impl FnOnce() -> T) -> T {
        allocation::allow(self.0);
        let out = work();
        allocation::allow_all();
        out
    }
}

/// Ends the process when this thread is at something for too long, or has taken too much memory.
fn watch(memory_mib: usize, root: String) -> io::Result<()> {
    let board = Board::watch_this_thread();
    #[cfg(unix)]
    let parent = rustix::process::getppid();
    let look = move || {
        loop {
            std::thread::sleep(LOOK);
            let lost = if allocation::is_limit_reached() {
                Some((UnjudgedCause::Memory(memory_mib), board.doing().unwrap_or_default()))
            } else {
                let milliseconds = |allowed: Duration| u64::try_from(allowed.as_millis()).unwrap_or(u64::MAX);
                board.overdue().map(|(doing, allowed)| (UnjudgedCause::Processor(milliseconds(allowed)), doing))
            };
            if let Some((cause, doing)) = lost {
                // Files are told as they lie in the project.
                let lost = Unjudged::from(cause).while_doing(&doing.replace(&root, ""));
                let parcel = SentTexts::default().pack(Answer::Lost(lost));
                // Nobody to tell is no reason to go on.
                let _ = write(&mut io::stdout().lock(), &parcel);
                end();
            }
            #[cfg(unix)]
            if rustix::process::getppid() != parent {
                end();
            }
        }
    };
    std::thread::Builder::new().name("watch".into()).spawn(look).map(drop)
}

/// Ends the process at once: the thread that plays may stand anywhere, and no destructor could run beside it.
fn end() -> ! {
    #[cfg(unix)]
    let _ = rustix::process::kill_process(rustix::process::getpid(), rustix::process::Signal::KILL);
    std::process::abort()
}
