//! What a thread is at, for whoever watches it from outside: a built-in of the engine, a compiler or a layout counts no steps, so only the
//! processor time that it takes tells that it is too much.
//!
//! A thread that nobody watches has no board, and pays nothing.

use std::cell::RefCell;
use std::sync::{Arc, Mutex};
use std::time::Duration;

/// One activity.
#[derive(Debug, Clone)]
struct Activity {
    what: String,
    /// Processor time when it began; what others within it took is added.
    began: Duration,
    allowed: Duration,
}

/// What a thread is at: the last one is what it does, those before wait for it.
#[derive(Debug, Default)]
pub struct Board(Mutex<Vec<Activity>>);

thread_local! {
    static BOARD: RefCell<Option<Arc<Board>>> = const { RefCell::new(None) };
}

/// Processor time of this process. Where it cannot be asked for it stands still, and nothing is ever too long.
pub fn processor_time() -> Duration {
    #[cfg(unix)]
    {
        let time = rustix::time::clock_gettime(rustix::time::ClockId::ProcessCPUTime);
        Duration::new(u64::try_from(time.tv_sec).unwrap_or(0), u32::try_from(time.tv_nsec).unwrap_or(0))
    }
    #[cfg(not(unix))]
    Duration::ZERO
}

impl Board {
    /// From now on this thread tells here what it is at.
    pub fn watch_this_thread() -> Arc<Self> {
        let board = Arc::new(Self::default());
        BOARD.with_borrow_mut(|own| *own = Some(board.clone()));
        board
    }

    /// What the thread is at, where it is at anything.
    pub fn doing(&self) -> Option<String> {
        self.0.lock().ok()?.last().map(|a| a.what.clone())
    }

    /// What has taken more processor time than it may, and how much that is.
    pub fn overdue(&self) -> Option<(String, Duration)> {
        let all = self.0.lock().ok()?;
        let last = all.last()?;
        (processor_time().saturating_sub(last.began) > last.allowed).then(|| (last.what.clone(), last.allowed))
    }

    fn end(&self) {
        let Ok(mut all) = self.0.lock() else { return };
        let Some(done) = all.pop() else { return };
        // What waited for it is not charged for it.
        let took = processor_time().saturating_sub(done.began);
        if let Some(outer) = all.last_mut() {
            outer.began += took;
        }
    }
}

/// Does something that may take so much processor time, under a name that fits before "took more than …".
pub fn during<T>(what: impl FnOnce() -> String, allowed: Duration, work: impl FnOnce() -> T) -> T {
    /// Ends the activity however the work ends.
    struct Ending(Arc<Board>);
    impl Drop for Ending {
        fn drop(&mut self) {
            self.0.end();
        }
    }
    let board = BOARD.with_borrow(Clone::clone);
    let _ending = board.map(|board| {
        if let Ok(mut all) = board.0.lock() {
            all.push(Activity { what: what(), began: processor_time(), allowed });
        }
        Ending(board)
    });
    work()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[cfg(unix)]
    #[test]
    fn what_takes_too_long_is_the_innermost_activity() {
        let busy = |time: Duration| {
            let end = processor_time() + time;
            while processor_time() < end {
                std::hint::spin_loop();
            }
        };
        let (short, long) = (Duration::from_millis(5), Duration::from_secs(3600));
        let board = Board::watch_this_thread();
        assert_eq!((board.doing(), board.overdue()), (None, None));
        during(
            || "mounting it".into(),
            long,
            || {
                during(
                    || "compiling Kiln.vue".into(),
                    short,
                    || {
                        busy(short * 2);
                        assert_eq!(board.overdue(), Some(("compiling Kiln.vue".to_owned(), short)));
                    },
                );
                assert_eq!((board.doing(), board.overdue()), (Some("mounting it".to_owned()), None));
            },
        );
        assert_eq!(board.doing(), None);
    }
}
