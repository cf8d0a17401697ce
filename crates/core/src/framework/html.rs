use super::{Record, never, reports_nothing};
use crate::naming::kebab;

pub(super) static RECORD: Record = Record {
    name: "html",
    packages: &[],
    attributes: &[],
    marks: &[],
    listener: kebab,
    reported_prop: reports_nothing,
    declares_event: never,
    passes_all_as_props: false,
    calls_functions_of_parent: false,
    parent_hears_undeclared: false,
    can_unset_props: true,
    can_bind_later: true,
    holds_fields: false,
    renders_on_request: false,
    is_element: false,
    may_renew_handle: false,
    hands_out_handle: false,
    shows_uses_in_source: false,
    has_template_files: false,
    is_page: true,
    // A page brings its own scripts, in its own order.
    loads_first: true,
    can_stand_by: false,
};
