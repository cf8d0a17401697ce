use super::{Record, as_written, never};

pub(super) static RECORD: Record = Record {
    name: "angular",
    packages: &["@angular/", "zone.js"],
    attributes: &[],
    // Of scoped styles, of what its development build writes for whoever looks on, of the application.
    marks: &["_ngcontent-", "_nghost-", "ng-reflect-", "ng-version"],
    listener: as_written,
    reported_prop: |event| event.strip_suffix("Change").map(str::to_owned),
    declares_event: never,
    passes_all_as_props: false,
    calls_functions_of_parent: false,
    parent_hears_undeclared: false,
    // A template binds an input or does not.
    can_unset_props: false,
    can_bind_later: true,
    holds_fields: false,
    renders_on_request: true,
    is_element: false,
    may_renew_handle: false,
    hands_out_handle: false,
    shows_uses_in_source: false,
    has_template_files: true,
    is_page: false,
    loads_first: true,
    can_stand_by: false,
};
