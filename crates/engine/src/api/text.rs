//! The log, text encodings, and values as text.

use rquickjs::Value;

use super::Natives;
use crate::host::{LogEntry, LogLevel};

pub(crate) fn register(n: &mut Natives<'_, '_>) -> rquickjs::Result<()> {
    let host = n.host.clone();
    n.add("log", move |level: String, text: String, stack: String| {
        let level = match level.as_str() {
            "warn" => LogLevel::Warn,
            "error" => LogLevel::Error,
            "uncaught" => LogLevel::Uncaught,
            "rejected" => LogLevel::Rejected,
            _ => LogLevel::Log,
        };
        host.log(LogEntry { level, text, stack });
    })?;
    n.add("utf8_encode", |text: String| text.into_bytes())?;
    n.add("utf8_decode", |bytes: Vec<u8>| String::from_utf8_lossy(&bytes).into_owned())
}

/// A value as text: strings as they are, the rest as `String(value)` would give, without running scripts for objects.
pub(crate) fn plain(value: &Value<'_>) -> String {
    if let Some(s) = value.as_string() {
        return s.to_string().unwrap_or_default();
    }
    if let Some(i) = value.as_int() {
        return i.to_string();
    }
    if let Some(f) = value.as_float() {
        return f.to_string();
    }
    if let Some(b) = value.as_bool() {
        return b.to_string();
    }
    if value.is_null() {
        return "null".into();
    }
    if value.is_undefined() {
        return "undefined".into();
    }
    let json = value.ctx().json_stringify(value.clone()).ok().flatten();
    json.and_then(|s| s.to_string().ok()).unwrap_or_else(|| value.type_name().to_owned())
}

/// The same, but nothing for `undefined`.
pub(crate) fn plain_or_empty(value: &Value<'_>) -> String {
    if value.is_undefined() { String::new() } else { plain(value) }
}
