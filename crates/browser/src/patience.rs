//! How long the browser may take for an answer: by what its processes do, not by the clock, since a busy machine leaves them waiting.

use std::time::{Duration, Instant};

use sysinfo::{Pid, Process, ProcessRefreshKind, ProcessStatus, ProcessesToUpdate, System};

/// How often one looks.
pub(crate) const LOOK: Duration = Duration::from_millis(250);
/// A browser of which no process has had anything to do at so many looks in a row waits for what never comes.
const IDLE: u32 = 40;
/// How much longer one waits where the clock is all there is: a busy machine is slow, and no verdict may come of that.
const BY_CLOCK: u32 = 10;

/// Watches a driver's processes while an answer is awaited.
#[derive(Debug)]
pub(crate) struct Patience {
    /// Processor time that may go by; where the processes cannot be seen, so many times that of the clock ([`BY_CLOCK`]).
    allowed: Duration,
    began: Instant,
    seen: Option<Seen>,
}

#[derive(Debug)]
struct Seen {
    system: System,
    driver: Pid,
    /// Processor time of the processes when the wait began, in milliseconds.
    start: u64,
    idle: u32,
}

impl Patience {
    /// Waits for so much work of the processes below `driver`; by the clock where there are none.
    pub(crate) fn new(allowed: Duration, driver: Option<u32>) -> Self {
        let seen = driver.and_then(|driver| {
            let mut seen = Seen { system: System::new().ok()?, driver: Pid::from_u32(driver), start: 0, idle: 0 };
            let look = seen.look();
            seen.start = look.spent;
            // A system may start a browser that is no process of its driver's.
            look.is_there.then_some(seen)
        });
        Self { allowed, began: Instant::now(), seen }
    }

    /// Why nothing is to be awaited any more; none while there is.
    pub(crate) fn over(&mut self) -> Option<Over> {
        let waited = self.began.elapsed();
        let Some(seen) = &mut self.seen else {
            let most = self.allowed * BY_CLOCK;
            return (waited >= most).then_some(Over::Waited(most));
        };
        let is_late = waited >= self.allowed;
        let look = seen.look();
        if !look.is_there {
            return Some(Over::Gone);
        }
        // A page has several processes, so that they work for longer than the clock goes, if ever so little in vain: both have to be over.
        if !is_late {
            return None;
        }
        seen.idle = if look.rests { seen.idle + 1 } else { 0 };
        let spent = Duration::from_millis(look.spent.saturating_sub(seen.start));
        if spent > self.allowed { Some(Over::Worked(self.allowed)) } else { (seen.idle >= IDLE).then_some(Over::Rests) }
    }
}

/// Why an answer does not come.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum Over {
    /// The browser has worked for so long.
    Worked(Duration),
    /// It has not answered for so long, and what it does cannot be seen from here.
    Waited(Duration),
    /// It has nothing to do.
    Rests,
    /// Somebody ended it.
    Gone,
}

impl std::fmt::Display for Over {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        match self {
            Self::Worked(time) => write!(f, "the browser worked for {} s without an answer", time.as_secs()),
            Self::Waited(time) => {
                write!(f, "the browser did not answer within {} s; its driver runs elsewhere, so that this is by the clock", time.as_secs())
            }
            Self::Rests => f.write_str("the browser waits for what never comes"),
            Self::Gone => f.write_str("the browser was ended"),
        }
    }
}

/// What is to be seen of the processes at one time.
struct Look {
    /// Processor time that they have taken, in milliseconds.
    spent: u64,
    /// None has anything to do.
    rests: bool,
    /// There is more than the driver.
    is_there: bool,
}

impl Seen {
    fn look(&mut self) -> Look {
        self.system.refresh_processes_specifics(ProcessesToUpdate::All, true, ProcessRefreshKind::nothing().with_cpu());
        let mut look = Look { spent: 0, rests: true, is_there: false };
        for process in self.system.processes().values().filter(|p| self.is_below(p)) {
            let ended = matches!(process.status(), ProcessStatus::Zombie | ProcessStatus::Dead);
            look.spent += process.accumulated_cpu_time();
            look.rests &= ended || matches!(process.status(), ProcessStatus::Sleep | ProcessStatus::Idle);
            look.is_there |= !ended && process.pid() != self.driver;
        }
        look
    }

    fn is_below(&self, process: &Process) -> bool {
        let mut at = Some(process.pid());
        // A table that is read while processes end may hold a ring.
        for _ in 0..32 {
            match at {
                Some(pid) if pid == self.driver => return true,
                Some(pid) => at = self.system.process(pid).and_then(Process::parent),
                None => return false,
            }
        }
        false
    }
}

#[cfg(all(test, target_os = "linux"))]
mod tests {
    use super::*;

    fn child(script: &str) -> std::process::Child {
        std::process::Command::new("sh").args(["-c", script]).stdin(std::process::Stdio::piped()).spawn().expect("sh starts")
    }

    /// Why it is over, if it is within a time that only a broken one needs.
    fn over(allowed: Duration, script: &str) -> Option<Over> {
        let mut child = child(script);
        // The shell has to get there first.
        std::thread::sleep(Duration::from_millis(500));
        let mut patience = Patience::new(allowed, Some(child.id()));
        let end = Instant::now() + Duration::from_secs(60);
        let mut over = None;
        while over.is_none() && Instant::now() < end {
            over = patience.over();
            std::thread::sleep(Duration::from_millis(20));
        }
        let _ = child.kill();
        let _ = child.wait();
        over
    }

    #[test]
    fn work_of_processes_below_counts() {
        let allowed = Duration::from_millis(300);
        assert_eq!(over(allowed, "timeout 20 sh -c 'while :; do :; done' & wait"), Some(Over::Worked(allowed)));
    }

    #[test]
    fn what_rests_is_given_up() {
        assert_eq!(over(Duration::from_millis(50), "sleep 20 & wait"), Some(Over::Rests));
    }

    #[test]
    fn an_ended_browser_is_told_at_once() {
        assert_eq!(over(Duration::from_secs(3600), "sleep 1 & read nothing"), Some(Over::Gone));
    }

    #[test]
    fn a_driver_without_processes_is_awaited_by_the_clock() {
        let allowed = Duration::from_millis(100);
        assert_eq!(over(allowed, "read nothing"), Some(Over::Waited(allowed * BY_CLOCK)));
    }
}
