//! Files that are no scripts: JSON, stylesheets, pictures.

use serde_json::{Map, Value as Json};

/// JSON as a CommonJS file: its members come as named exports too, as bundlers give them.
pub fn json(text: &str) -> String {
    // A JSON text is an ECMAScript expression (ECMA-262 §25.5); `__proto__` keys are the one exception, so it is parsed.
    format!("module.exports = JSON.parse({});", serde_json::Value::from(text))
}

/// A stylesheet: handed to the page when the module runs, and its text.
pub fn css(path: &str, rules: &str) -> String {
    let (path, rules) = (Json::from(path), Json::from(rules));
    format!("globalThis.__styles?.({path}, {rules});\nexport default {rules};\n")
}

/// A CSS module: handed to the page when the module runs, and what each of its names is exported as.
pub fn css_module(path: &str, rules: &str, names: &Map<String, Json>) -> String {
    let (path, rules) = (Json::from(path), Json::from(rules));
    let mut out = format!("globalThis.__styles?.({path}, {rules});\n");
    for (i, (name, value)) in names.iter().enumerate() {
        out.push_str(&format!("const name{i} = {value}; export {{ name{i} as {} }};\n", Json::from(name.as_str())));
    }
    let entries: Vec<String> = names.keys().enumerate().map(|(i, name)| format!("{}: name{i}", Json::from(name.as_str()))).collect();
    out.push_str(&format!("export default {{ {} }};\n", entries.join(", ")));
    out
}

/// A text, as `?raw` and `?inline` ask for it.
pub fn text(text: &str) -> String {
    format!("export default {};\n", Json::from(text))
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
