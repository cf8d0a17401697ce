use super::{Record, always, as_handler, reports_nothing};

pub(super) static RECORD: Record = Record {
    name: "react",
    packages: &["react", "react-dom", "scheduler"],
    attributes: &[],
    marks: &["data-reactroot"],
    listener: as_handler,
    reported_prop: reports_nothing,
    declares_event: always,
    passes_all_as_props: true,
    calls_functions_of_parent: true,
    parent_hears_undeclared: false,
    can_unset_props: true,
    // "A component is changing an uncontrolled input to be controlled" is an error of the framework's own.
    can_bind_later: false,
    holds_fields: true,
    renders_on_request: true,
    is_element: false,
    may_renew_handle: true,
    hands_out_handle: true,
    shows_uses_in_source: true,
    has_template_files: false,
    is_page: false,
    loads_first: false,
    can_stand_by: true,
};
