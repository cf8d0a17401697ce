use super::{JSX, Record};

pub(super) static RECORD: Record = Record {
    name: "react",
    packages: &["react", "react-dom", "scheduler"],
    marks: &["data-reactroot"],
    // "A component is changing an uncontrolled input to be controlled" is an error of the framework's own.
    can_bind_later: false,
    holds_fields: true,
    renders_on_request: true,
    may_renew_handle: true,
    hands_out_handle: true,
    can_stand_by: true,
    ..JSX
};
