use super::{PLAIN, Record};

pub(super) static RECORD: Record = Record {
    name: "angular",
    packages: &["@angular/", "zone.js"],
    // Of scoped styles, of what its development build writes for whoever looks on, of the application.
    marks: &["_ngcontent-", "_nghost-", "ng-reflect-", "ng-version"],
    reported_prop: |event| event.strip_suffix("Change").map(str::to_owned),
    // A template binds an input or does not.
    can_unset_props: false,
    renders_on_request: true,
    has_template_files: true,
    loads_first: true,
    ..PLAIN
};
