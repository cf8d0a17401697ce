use super::{PLAIN, Record};
use crate::naming::kebab;

pub(super) static RECORD: Record = Record {
    name: "html",
    listener: kebab,
    is_page: true,
    // A page brings its own scripts, in its own order.
    loads_first: true,
    ..PLAIN
};
