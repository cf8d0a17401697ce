use super::{Record, always, as_handler, reports_nothing};

pub(super) static RECORD: Record = Record {
    name: "solid",
    packages: &["solid-js"],
    attributes: &[],
    marks: &[],
    listener: as_handler,
    reported_prop: reports_nothing,
    declares_event: always,
    passes_all_as_props: true,
    calls_functions_of_parent: true,
    parent_hears_undeclared: false,
    can_unset_props: true,
    can_bind_later: true,
    holds_fields: false,
    // A component runs once; only what depends on a signal runs again.
    renders_on_request: false,
    is_element: false,
    may_renew_handle: false,
    hands_out_handle: false,
    shows_uses_in_source: true,
    has_template_files: false,
    is_page: false,
    loads_first: false,
    can_stand_by: false,
};
