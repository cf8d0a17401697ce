//! Names as scripts and as markup write them.

/// `max-heat` → `maxHeat`, as `dataset` names it (HTML §3.2.6.6).
pub fn camel(name: &str) -> String {
    let mut parts = name.split('-');
    let mut out = parts.next().unwrap_or_default().to_owned();
    for part in parts {
        let mut chars = part.chars();
        out.extend(chars.next().into_iter().flat_map(char::to_uppercase));
        out.push_str(chars.as_str());
    }
    out
}

/// `maxHeat` → `max-heat`.
pub fn kebab(name: &str) -> String {
    let mut out = String::new();
    for c in name.chars() {
        if c.is_uppercase() {
            out.push('-');
        }
        out.extend(c.to_lowercase());
    }
    out
}

/// The package that a file lies in; none for the project's own.
pub fn package_of(file: &str) -> Option<&str> {
    let (_, within) = file.rsplit_once("node_modules/")?;
    let parts = if within.starts_with('@') { 2 } else { 1 };
    let end = within.match_indices('/').nth(parts - 1).map_or(within.len(), |(at, _)| at);
    Some(&within[..end])
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn one_is_the_other_backwards() {
        for (markup, script) in [("max-heat", "maxHeat"), ("fired", "fired"), ("x-y-z", "xYZ"), ("", "")] {
            assert_eq!(camel(markup), script);
            assert_eq!(kebab(script), markup);
        }
        assert_eq!(camel("a--b"), "aB");
        assert_eq!(camel("open-"), "open");
    }

    #[test]
    fn a_package_may_have_a_scope() {
        assert_eq!(package_of("node_modules/glaze/dist/index.js"), Some("glaze"));
        assert_eq!(package_of("node_modules/a/node_modules/@kiln/ui/x.js"), Some("@kiln/ui"));
        assert_eq!(package_of("src/node.ts"), None);
    }
}
