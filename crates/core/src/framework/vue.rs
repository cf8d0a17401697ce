use super::{Record, always, as_written};
use crate::naming::camel;

pub(super) static RECORD: Record = Record {
    name: "vue",
    packages: &["vue", "@vue/"],
    // The two values of a box (the guide, "Form Input Bindings").
    attributes: &["true-value", "false-value"],
    marks: &["data-v-"],
    listener: as_written,
    reported_prop: |event| event.strip_prefix("update:").map(camel),
    declares_event: always,
    passes_all_as_props: false,
    calls_functions_of_parent: false,
    parent_hears_undeclared: true,
    can_unset_props: true,
    can_bind_later: true,
    holds_fields: false,
    renders_on_request: true,
    is_element: false,
    may_renew_handle: false,
    hands_out_handle: false,
    shows_uses_in_source: true,
    has_template_files: false,
    is_page: false,
    loads_first: false,
    can_stand_by: true,
};
