use super::{PLAIN, Record, StartsBy, always};
use crate::naming::camel;

pub(super) static RECORD: Record = Record {
    name: "vue",
    packages: &["vue", "@vue/"],
    // The two values of a box (the guide, "Form Input Bindings").
    attributes: &["true-value", "false-value"],
    marks: &["data-v-"],
    reported_prop: |event| event.strip_prefix("update:").map(camel),
    declares_event: always,
    parent_hears_undeclared: true,
    renders_on_request: true,
    shows_uses_in_source: true,
    can_stand_by: true,
    starts_by: Some(StartsBy::Application),
    ..PLAIN
};
