//! What the natives of one realm share.

use std::cell::RefCell;
use std::collections::HashMap;
use std::rc::Rc;
use std::sync::Arc;

use fidelon_dom::{Document, Selectors};

use crate::limits::Meter;

/// How a log entry came about.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum LogLevel {
    /// `console.log` and its kin.
    Log,
    /// `console.warn`.
    Warn,
    /// `console.error`.
    Error,
    /// An exception that nobody caught, reported to the window.
    Uncaught,
    /// A promise that was rejected and never handled.
    Rejected,
}

/// One thing that was logged.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct LogEntry {
    /// How it came about.
    pub level: LogLevel,
    /// The formatted text.
    pub text: String,
    /// The engine's stack at that point, or of the error that was logged.
    pub stack: String,
}

/// State behind the natives.
pub struct Host {
    /// The document.
    pub doc: RefCell<Document>,
    /// What was logged since it was last taken.
    pub log: RefCell<Vec<LogEntry>>,
    /// Parsed selectors by their text: frameworks ask for the same few again and again.
    pub selectors: RefCell<HashMap<String, Rc<Selectors>>>,
    /// Bytecode that the runtime reads in place: it must live as long as the runtime.
    pub bytecode: RefCell<Vec<Arc<[u8]>>>,
    /// Source maps of functions that were made of text, in base64, by the name that the text gave itself.
    pub(crate) maps: RefCell<HashMap<String, Rc<str>>>,
    /// Properties that are looked at between cases.
    pub(crate) watched: RefCell<Vec<Vec<crate::api::Watched>>>,
    /// Where boxes stand, as far as it was asked for.
    pub(crate) layout: crate::api::Layout,
    /// Declaration lists that scripts read or wrote last.
    pub(crate) lists: crate::api::Recent,
    /// What scripts have done, and put into the document.
    pub(crate) meter: Meter,
}

/// Most entries that are kept of one log: a component that logs in a loop must not fill the memory.
pub const MOST_LOG_ENTRIES: usize = 1000;

impl Host {
    /// A host with a blank document, which tells `meter` how much is put into it and what built-ins do.
    pub(crate) fn new(meter: Meter) -> Self {
        let doc = RefCell::new(Document::blank());
        Self {
            doc,
            log: RefCell::default(),
            selectors: RefCell::default(),
            bytecode: RefCell::default(),
            maps: RefCell::default(),
            watched: RefCell::default(),
            layout: crate::api::Layout::default(),
            lists: crate::api::Recent::default(),
            meter,
        }
    }

    /// Adds a log entry, as long as there is room.
    pub fn log(&self, entry: LogEntry) {
        let mut log = self.log.borrow_mut();
        if log.len() < MOST_LOG_ENTRIES {
            log.push(entry);
        }
    }
}
