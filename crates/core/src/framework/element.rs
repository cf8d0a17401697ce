use super::{PLAIN, Record};
use crate::naming::kebab;

pub(super) static RECORD: Record = Record {
    name: "element",
    packages: &["lit", "@lit/"],
    listener: kebab,
    // A property that was set cannot become one that never was.
    can_unset_props: false,
    is_element: true,
    ..PLAIN
};
