//! How much memory a thread holds beyond what it held when a case began, whoever allocates: script, document, strings of fields, layout,
//! stylesheets, transforms of sources.
//!
//! A program that names [`Metered`] as its allocator can set a limit for a thread. Rust code cannot go on without memory, so the thread
//! that reaches the limit stops where it is, and whoever watches it ends the process.

use std::alloc::{GlobalAlloc, Layout};
use std::cell::Cell;
use std::sync::atomic::{AtomicBool, Ordering};
use std::time::Duration;

thread_local! {
    /// Bytes that this thread took and did not give back since it last began to count. What it gives back of earlier times makes it negative.
    static HELD: Cell<isize> = const { Cell::new(0) };
    /// The most that it may hold; 0 for a thread that is not limited.
    static LIMIT: Cell<isize> = const { Cell::new(0) };
}

/// True once a thread has reached its limit.
static REACHED: AtomicBool = AtomicBool::new(false);

/// From now on this thread may take so many bytes more.
pub fn allow(bytes: usize) {
    HELD.set(0);
    LIMIT.set(isize::try_from(bytes).unwrap_or(isize::MAX));
}

/// This thread is not limited.
pub fn allow_all() {
    LIMIT.set(0);
}

/// Whether a thread has reached its limit, and stands still.
pub fn is_limit_reached() -> bool {
    REACHED.load(Ordering::Relaxed)
}

/// Does something that this thread is not charged for: it has a limit of its own.
pub fn excused<T>(work: impl FnOnce() -> T) -> T {
    let (held, limit) = (HELD.get(), LIMIT.replace(0));
    let out = work();
    HELD.set(held);
    LIMIT.set(limit);
    out
}

/// An allocator that counts what limited threads hold.
#[derive(Debug, Default, Clone, Copy)]
pub struct Metered<A>(pub A);

fn take(bytes: usize) {
    let limit = LIMIT.get();
    if limit > 0 {
        let held = HELD.get().saturating_add_unsigned(bytes);
        if held > limit {
            stop();
        }
        HELD.set(held);
    }
}

fn give(bytes: usize) {
    if LIMIT.get() > 0 {
        HELD.set(HELD.get().saturating_sub_unsigned(bytes));
    }
}

#[cold]
fn stop() {
    REACHED.store(true, Ordering::Relaxed);
    loop {
        std::thread::sleep(Duration::from_secs(1));
    }
}

// SAFETY: every call is passed on to an allocator that keeps the trait's promises; the counting touches no block and allocates nothing,
// since thread-locals with constant values and no destructor need no set-up.
unsafe impl<A: GlobalAlloc> GlobalAlloc for Metered<A> {
    unsafe fn alloc(&self, layout: Layout) -> *mut u8 {
        take(layout.size());
        // SAFETY: the caller's promises are those that the inner allocator asks for.
        unsafe { self.0.alloc(layout) }
    }

    unsafe fn alloc_zeroed(&self, layout: Layout) -> *mut u8 {
        take(layout.size());
        // SAFETY: as for `alloc`.
        unsafe { self.0.alloc_zeroed(layout) }
    }

    unsafe fn dealloc(&self, block: *mut u8, layout: Layout) {
        give(layout.size());
        // SAFETY: as for `alloc`.
        unsafe { self.0.dealloc(block, layout) }
    }

    unsafe fn realloc(&self, block: *mut u8, layout: Layout, new_size: usize) -> *mut u8 {
        if new_size > layout.size() {
            take(new_size - layout.size());
        } else {
            give(layout.size() - new_size);
        }
        // SAFETY: as for `alloc`.
        unsafe { self.0.realloc(block, layout, new_size) }
    }
}

#[cfg(test)]
mod tests {
    use std::alloc::System;

    use super::*;

    #[test]
    fn a_limited_thread_is_charged_for_what_it_holds() {
        let (allocator, layout) = (Metered(System), Layout::from_size_align(1000, 8).expect("valid"));
        allow(10_000);
        // SAFETY: the layout is not empty, and each block is given back with it.
        unsafe {
            let block = allocator.alloc(layout);
            assert_eq!(HELD.get(), 1000);
            let free = excused(|| allocator.alloc(layout));
            assert_eq!(HELD.get(), 1000);
            allocator.dealloc(block, layout);
            allocator.dealloc(free, layout);
        }
        assert_eq!(HELD.get(), -1000);
        allow_all();
    }

    #[test]
    fn one_that_reaches_its_limit_stands_still() {
        let busy = std::thread::spawn(|| {
            let (allocator, layout) = (Metered(System), Layout::from_size_align(1 << 20, 8).expect("valid"));
            allow(4 << 20);
            loop {
                // SAFETY: the layout is not empty. The block is lost, as the thread is.
                let _ = unsafe { allocator.alloc(layout) };
            }
        });
        while !is_limit_reached() {
            std::thread::yield_now();
        }
        assert!(!busy.is_finished());
        REACHED.store(false, Ordering::Relaxed);
    }
}
