//! The log, text encodings, and values as text.

use std::borrow::Cow;

use encoding_rs::Encoding;
use rquickjs::{Ctx, TypedArray, Value};

use super::Natives;
use crate::host::{LogEntry, LogLevel};

pub(crate) fn register<'js>(n: &mut Natives<'_, 'js>) -> rquickjs::Result<()> {
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
    n.add("utf8_encode", utf8_encode)?;
    // The name that an encoding has in scripts; empty for what is none (Encoding Standard §4.2).
    n.add("encoding", |label: String| Encoding::for_label(label.as_bytes()).map_or_else(String::new, |e| e.name().to_ascii_lowercase()))?;
    // The text of bytes; none where they are not of the encoding and that is an error.
    n.add("decode", |name: String, bytes: TypedArray<'_, u8>, fatal: bool| {
        let encoding = Encoding::for_label(name.as_bytes()).unwrap_or(encoding_rs::UTF_8);
        // SAFETY: no script runs while the slice is alive: what reads it is Rust alone, and the text is copied out.
        let bytes = unsafe { bytes.as_bytes() }.unwrap_or_default();
        if fatal {
            return encoding.decode_without_bom_handling_and_without_replacement(bytes).map(Cow::into_owned);
        }
        Some(encoding.decode_without_bom_handling(bytes).0.into_owned())
    })
}

fn utf8_encode(ctx: Ctx<'_>, text: String) -> rquickjs::Result<TypedArray<'_, u8>> {
    TypedArray::new(ctx, text.into_bytes())
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
