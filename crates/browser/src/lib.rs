//! The stage in a real browser, over W3C WebDriver: the same scripts, session and adapters as in the embedded stage.
//!
//! WebDriver starts the browser and brings it to a page of ours; from there on the page asks for its work over HTTP, a batch at a
//! time, and says what it saw. So a thousand cases cost no thousand commands, and the session stays free for real input.
//!
//! | module | subject |
//! |---|---|
//! | [`stage`] | [`fidelon_core::stage::Stage`] over a page |
//! | [`driver`] | drivers: found, started, a session, an end that leaves nothing behind |
//! | `server` | modules and work for the page, over HTTP |
//! | [`modules`] | the loader on a thread of its own |
//! | `patience` | how long an answer is awaited: by what the browser's processes do |
//! | `picture` | a page of ours as a picture |
//! | `snapshot` | from what the page says to observations |

pub mod driver;
mod input;
pub mod modules;
mod patience;
mod picture;
mod server;
mod snapshot;
pub mod stage;

pub use driver::{DriverChoice, DriverError, Page, end_all, is_there};
pub use modules::Modules;
pub use picture::picture;
pub use stage::{Browser, MODULES, Options, secret};
