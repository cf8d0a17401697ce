//! The runtime's memory, counted as it is taken: asking the engine instead walks its whole heap.

use std::cell::Cell;
use std::rc::Rc;

use rquickjs::allocator::{Allocator, RustAllocator};

/// How many bytes a runtime holds at the moment. Shared between the allocator and whoever asks.
#[derive(Debug, Clone, Default)]
pub(crate) struct Heap {
    used: Rc<Cell<usize>>,
    most: Rc<Cell<usize>>,
}

impl Heap {
    /// Bytes held now.
    pub(crate) fn used(&self) -> usize {
        self.used.get()
    }

    /// The most that was held since this was asked for to start anew.
    pub(crate) fn most(&self) -> usize {
        self.most.get()
    }

    /// From now on the most is counted anew.
    pub(crate) fn forget_most(&self) {
        self.most.set(self.used.get());
    }

    /// An allocator that counts here.
    pub(crate) fn allocator(&self) -> impl Allocator + 'static {
        Counting { heap: self.clone() }
    }

    /// Counts a block that was given out. A refused one is null and counts nothing.
    fn took(&self, block: *mut u8) -> *mut u8 {
        if !block.is_null() {
            // SAFETY: `block` came from `RustAllocator` just now.
            self.used.set(self.used.get() + unsafe { RustAllocator::usable_size(block) });
            self.most.set(self.most.get().max(self.used.get()));
        }
        block
    }
}

struct Counting {
    heap: Heap,
}

// SAFETY: every call is passed on to `RustAllocator`, which keeps the trait's promises; the counting touches no block.
unsafe impl Allocator for Counting {
    fn alloc(&mut self, size: usize) -> *mut u8 {
        self.heap.took(RustAllocator.alloc(size))
    }

    fn calloc(&mut self, count: usize, size: usize) -> *mut u8 {
        self.heap.took(RustAllocator.calloc(count, size))
    }

    unsafe fn dealloc(&mut self, block: *mut u8) {
        // SAFETY: the caller promises that `block` came from this allocator, so from `RustAllocator`.
        unsafe {
            self.heap.used.set(self.heap.used.get().saturating_sub(RustAllocator::usable_size(block)));
            RustAllocator.dealloc(block);
        }
    }

    unsafe fn realloc(&mut self, block: *mut u8, size: usize) -> *mut u8 {
        // SAFETY: as for `dealloc`. When the larger block is refused the old one stays, and stays counted.
        unsafe {
            let before = RustAllocator::usable_size(block);
            let moved = RustAllocator.realloc(block, size);
            if !moved.is_null() {
                self.heap.used.set(self.heap.used.get().saturating_sub(before));
                self.heap.took(moved);
            }
            moved
        }
    }

    unsafe fn usable_size(block: *mut u8) -> usize {
        // SAFETY: as for `dealloc`.
        unsafe { RustAllocator::usable_size(block) }
    }
}

#[cfg(test)]
mod tests {
    use rquickjs::{Context, Runtime};

    use super::*;

    #[test]
    fn what_is_freed_is_not_counted() {
        let heap = Heap::default();
        let runtime = Runtime::new_with_alloc(heap.allocator()).expect("starts");
        let context = Context::full(&runtime).expect("starts");
        context.with(|ctx| ctx.eval::<(), _>("globalThis.shelf = Array.from({ length: 100000 }, (_, i) => ({ i }))")).expect("runs");
        let full = heap.used();
        context.with(|ctx| ctx.eval::<(), _>("delete globalThis.shelf")).expect("runs");
        runtime.run_gc();
        assert!(full > 4_000_000, "{full}");
        assert!(heap.used() < full / 2, "{} of {full}", heap.used());
        drop(context);
        drop(runtime);
        assert_eq!(heap.used(), 0);
    }
}
