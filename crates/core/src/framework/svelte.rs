use super::{Record, reports_nothing};

pub(super) static RECORD: Record = Record {
    name: "svelte",
    packages: &["svelte"],
    attributes: &[],
    marks: &[],
    // Handlers are props, by custom written like those of the page.
    listener: |event| format!("on{}", event.to_lowercase()),
    reported_prop: reports_nothing,
    // What is dispatched is declared nowhere else.
    declares_event: |written| written.starts_with("on"),
    passes_all_as_props: false,
    calls_functions_of_parent: true,
    parent_hears_undeclared: false,
    can_unset_props: true,
    can_bind_later: true,
    holds_fields: false,
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
