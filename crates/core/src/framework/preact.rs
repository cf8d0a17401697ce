use super::{JSX, Record};

pub(super) static RECORD: Record =
    Record { name: "preact", packages: &["preact"], renders_on_request: true, may_renew_handle: true, can_stand_by: true, ..JSX };
