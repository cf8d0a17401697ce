//! The runtime's memory, counted as it is taken: asking the engine instead walks its whole heap.

use std::cell::Cell;
use std::rc::Rc;

use rquickjs::allocator::{Allocator, RustAllocator};

/// How many bytes a runtime holds at the moment. Shared between the allocator and whoever asks.
#[derive(Debug, Clone, Default)]
pub(crate) struct Heap {
    used: Rc<Cell<usize>>,
    limit: Rc<Cell<usize>>,
    refused: Rc<Cell<bool>>,
}

impl Heap {
    /// Bytes held now.
    pub(crate) fn used(&self) -> usize {
        self.used.get()
    }

    /// Sets how much may be held.
    pub(crate) fn limit(&self, bytes: usize) {
        self.limit.set(bytes);
    }

    /// Whether a block was ever refused. Scripts catch what the engine throws then, so that nothing
    /// else may be left of it.
    pub(crate) fn has_refused(&self) -> bool {
        self.refused.get()
    }

    /// An allocator that counts here.
    pub(crate) fn allocator(&self) -> impl Allocator + 'static {
        Counting { heap: self.clone() }
    }

    /// Whether there is room for so many bytes more.
    fn allows(&self, more: usize) -> bool {
        let allows = self.limit.get() == 0 || self.used.get().saturating_add(more) <= self.limit.get();
        if !allows {
            self.refused.set(true);
        }
        allows
    }

    /// Counts a block that was given out. A refused one is null and counts nothing.
    fn took(&self, block: *mut u8) -> *mut u8 {
        if !block.is_null() {
            // SAFETY: `block` came from `RustAllocator` just now.
            self.used.set(self.used.get() + unsafe { RustAllocator::usable_size(block) });
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
        if !self.heap.allows(size) {
            return std::ptr::null_mut();
        }
        self.heap.took(RustAllocator.alloc(size))
    }

    fn calloc(&mut self, count: usize, size: usize) -> *mut u8 {
        if !self.heap.allows(count.saturating_mul(size)) {
            return std::ptr::null_mut();
        }
        self.heap.took(RustAllocator.calloc(count, size))
    }

    unsafe fn dealloc(&mut self, block: *mut u8) {
        // SAFETY: the caller promises that `block` came from this allocator, so from `RustAllocator`.
        unsafe {
            self.heap.used.set(self.heap.used.get().saturating_sub(RustAllocator::usable_size(block)));
            RustAllocator.dealloc(block);
        }
    }

    unsafe fn realloc(&mut self, block: *mut u8, new_size: usize) -> *mut u8 {
        // SAFETY: as for `dealloc`. When the larger block is refused the old one stays, and stays counted.
        unsafe {
            let before = RustAllocator::usable_size(block);
            if new_size > before && !self.heap.allows(new_size - before) {
                return std::ptr::null_mut();
            }
            let moved = RustAllocator.realloc(block, new_size);
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
    fn what_is_refused_is_known_whoever_catches_it() {
        let heap = Heap::default();
        let runtime = Runtime::new_with_alloc(heap.allocator()).expect("starts");
        let context = Context::full(&runtime).expect("starts");
        heap.limit(heap.used() + (4 << 20));
        let run = |source: &str| context.with(|ctx| ctx.eval::<String, _>(source)).expect("caught");
        assert_eq!(run("try { new Array(100000).fill('clay').join(); 'room' } catch { 'full' }"), "room");
        assert!(!heap.has_refused());
        assert_eq!(run("try { 'x'.repeat(1e7); 'room' } catch { 'full' }"), "full");
        assert!(heap.has_refused());
    }

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
