use super::{JSX, Record};

pub(super) static RECORD: Record = Record { name: "solid", packages: &["solid-js"], ..JSX };
