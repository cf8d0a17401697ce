//! A page of plain HTML as a module: its text, the scripts that it runs and the stylesheets that it links to.

use std::path::{Path, PathBuf};

use oxc::allocator::Allocator;
use oxc::ast::ast::{Declaration, VariableDeclarationKind};
use oxc::parser::Parser;
use oxc::span::SourceType;
use serde_json::Value as Json;

/// A tag that brings a script or a stylesheet.
#[derive(Debug, PartialEq)]
enum Brought {
    /// A script of this text, or of this address.
    Script {
        text: String,
        src: Option<String>,
        module: bool,
        late: bool,
    },
    Sheet(String),
}

/// The module of a page. `read` gives the text of a file.
///
/// # Errors
/// What cannot be brought: its place in the source, and why.
pub fn module(path: &str, source: &str, read: &mut dyn FnMut(&Path) -> Result<String, String>) -> Result<String, (usize, String)> {
    let folder = Path::new(path).parent().unwrap_or(Path::new("/"));
    let mut imports = String::new();
    let mut scripts = Vec::new();
    let mut left_out = Vec::new();
    for (index, (at, brought)) in brought(source).into_iter().enumerate() {
        match brought {
            Brought::Sheet(href) => {
                // As in a browser a page does without a sheet that is not there; what it does without is told.
                match file_of(&href, folder) {
                    Some(file) => imports.push_str(&format!("import {};\n", Json::from(file.to_string_lossy()))),
                    None => left_out.push(missing(&href)),
                }
            }
            Brought::Script { src: Some(src), module, late, .. } => {
                let file = file_of(&src, folder).ok_or_else(|| (at, missing(&src)))?;
                if module {
                    scripts.push(format!("{{ late: true, load: () => import({}) }}", Json::from(file.to_string_lossy())));
                } else {
                    let text = read(&file).map_err(|e| (at, format!("`{src}`: {e}")))?;
                    scripts.push(classic(&text, &src, late));
                }
            }
            Brought::Script { module: true, .. } => {
                scripts.push(format!("{{ late: true, load: () => import({}) }}", Json::from(format!("{path}?script-{index}"))));
            }
            Brought::Script { text, late, .. } => scripts.push(classic(&text, &format!("{path}#{index}"), late)),
        }
    }
    Ok(format!(
        "{imports}export default {{ html: {}, scripts: [{}], leftOut: {} }};\n",
        Json::from(source),
        scripts.join(", "),
        Json::from(left_out)
    ))
}

/// The text of the inline module script of this number.
pub fn inline_script(source: &str, number: usize) -> Option<String> {
    match brought(source).into_iter().nth(number)?.1 {
        // Lines stay what they are in the page.
        Brought::Script { text, .. } => {
            let before = source.find(&text).map_or(0, |at| source[..at].matches('\n').count());
            Some("\n".repeat(before) + &text)
        }
        Brought::Sheet(_) => None,
    }
}

fn classic(text: &str, name: &str, late: bool) -> String {
    format!("{{ late: {late}, text: {} }}", Json::from(format!("{}\n//# sourceURL={name}", shared(text))))
}

/// A classic script whose declarations are seen by the scripts after it: `eval` keeps `const`, `let` and `class` for itself, and in strict mode
/// all else too; a page does not.
fn shared(text: &str) -> String {
    let allocator = Allocator::default();
    let parsed = Parser::new(&allocator, text, SourceType::cjs()).parse();
    let mut edits: Vec<(usize, usize, String)> = Vec::new();
    for directive in parsed.program.directives.iter().filter(|d| d.directive == "use strict") {
        let (start, end) = (directive.span.start as usize, directive.span.end as usize);
        edits.push((start, end, " ".repeat(end - start)));
    }
    for statement in &parsed.program.body {
        match statement.as_declaration() {
            Some(Declaration::VariableDeclaration(variable)) if variable.kind != VariableDeclarationKind::Var => {
                let start = variable.span.start as usize;
                edits.push((start, start + variable.kind.as_str().len(), "var".into()));
            }
            Some(Declaration::ClassDeclaration(class)) => {
                if let Some(id) = &class.id {
                    let span = class.span;
                    edits.push((span.start as usize, span.start as usize, format!("var {} = ", id.name)));
                    edits.push((span.end as usize, span.end as usize, ";".into()));
                }
            }
            _ => {}
        }
    }
    let mut out = String::with_capacity(text.len() + 16);
    let mut at = 0;
    for (start, end, with) in edits {
        out.push_str(&text[at..start]);
        out.push_str(&with);
        at = end;
    }
    out + &text[at..]
}

fn missing(address: &str) -> String {
    match package(address) {
        Some((name, _)) => format!(
            "`{address}` is not fetched: nothing is loaded from the network. Install the package, for example with `npm install {name}`"
        ),
        None if address.contains("://") => {
            format!("`{address}` is not fetched: nothing is loaded from the network. Keep a copy in the project")
        }
        None => format!("there is no file `{address}`"),
    }
}

/// The package and the file in it that an address of a public store of packages means: `…/alpinejs@3.14.1/dist/cdn.min.js`.
fn package(address: &str) -> Option<(String, String)> {
    let path = address.strip_prefix("https://").or_else(|| address.strip_prefix("http://"))?.split_once('/')?.1;
    let parts: Vec<&str> = path.split('/').collect();
    let at = parts.iter().position(|p| p.rfind('@').is_some_and(|i| i > 0))?;
    let (name, _) = parts[at].rsplit_once('@')?;
    let scope = at.checked_sub(1).map(|before| parts[before]).filter(|p| p.starts_with('@'));
    let name = scope.map_or_else(|| name.to_owned(), |s| format!("{s}/{name}"));
    Some((name, parts[at + 1..].join("/")))
}

/// The file that an address in a page means: beside it, in the folder that pages are served from, or in an installed package.
fn file_of(address: &str, folder: &Path) -> Option<PathBuf> {
    let plain = address.split(['?', '#']).next().unwrap_or(address);
    let found = |path: PathBuf| path.is_file().then_some(path);
    if let Some((name, rest)) = package(plain) {
        let within = |a: &Path| found(a.join("node_modules").join(&name).join(&rest));
        return folder.ancestors().find_map(within);
    }
    if plain.contains("://") || plain.starts_with("//") {
        return None;
    }
    if let Some(from_top) = plain.strip_prefix('/') {
        return folder.ancestors().find_map(|a| found(a.join(from_top)).or_else(|| found(a.join("public").join(from_top))));
    }
    let mut path = folder.to_path_buf();
    for part in plain.split('/') {
        match part {
            "." | "" => {}
            ".." => drop(path.pop()),
            part => path.push(part),
        }
    }
    found(path)
}

/// The scripts and stylesheets of a page, each with its offset.
fn brought(source: &str) -> Vec<(usize, Brought)> {
    let mut out = Vec::new();
    let mut at = 0;
    while let Some(start) = source[at..].find('<').map(|i| at + i) {
        let rest = &source[start..];
        at = start + 1;
        if rest.starts_with("<!--") {
            at = source[start..].find("-->").map_or(source.len(), |i| start + i + 3);
            continue;
        }
        let lower = rest.get(..8).unwrap_or(rest).to_ascii_lowercase();
        let is_script = lower.starts_with("<script") && rest[7..].starts_with(|c: char| c.is_whitespace() || c == '>');
        let is_link = lower.starts_with("<link") && rest[5..].starts_with(char::is_whitespace);
        if !is_script && !is_link {
            continue;
        }
        let (attributes, end) = attributes(&rest[if is_script { 7 } else { 5 }..]);
        let body = start + if is_script { 7 } else { 5 } + end;
        let value = |name: &str| attributes.iter().find(|(n, _)| n == name).map(|(_, v)| v.clone());
        at = body;
        if is_link {
            let is_sheet = value("rel").is_some_and(|r| r.split_whitespace().any(|w| w.eq_ignore_ascii_case("stylesheet")));
            out.extend(value("href").filter(|_| is_sheet).map(|href| (start, Brought::Sheet(href))));
            continue;
        }
        let close = source[body..].to_ascii_lowercase().find("</script").map_or(source.len(), |i| body + i);
        at = close;
        let kind = value("type").unwrap_or_default();
        let runs = ["", "module", "text/javascript", "application/javascript"].contains(&kind.as_str());
        if runs {
            let module = kind == "module";
            let src = value("src");
            let late = module || src.is_some() && (value("defer").is_some() || value("async").is_some());
            out.push((start, Brought::Script { text: source[body..close].to_owned(), src, module, late }));
        }
    }
    out
}

/// The attributes of a tag, and where it ends.
fn attributes(tag: &str) -> (Vec<(String, String)>, usize) {
    let mut out = Vec::new();
    let mut at = 0;
    loop {
        at += tag[at..].find(|c: char| !c.is_whitespace() && c != '/').unwrap_or(tag.len() - at);
        let rest = &tag[at..];
        if rest.is_empty() || rest.starts_with('>') {
            return (out, (at + 1).min(tag.len()));
        }
        let end = rest.find(|c: char| c.is_whitespace() || c == '=' || c == '>' || c == '/').unwrap_or(rest.len()).max(1);
        let name = rest[..end].to_ascii_lowercase();
        at += end;
        let after = tag[at..].trim_start();
        let mut value = String::new();
        if let Some(given) = after.strip_prefix('=') {
            let given = given.trim_start();
            at = tag.len() - given.len();
            if let Some(quote) = given.chars().next().filter(|c| *c == '"' || *c == '\'') {
                value = given[1..].split(quote).next().unwrap_or_default().to_owned();
                at += 2 + value.len();
            } else {
                value = given.split(|c: char| c.is_whitespace() || c == '>').next().unwrap_or_default().to_owned();
                at += value.len();
            }
            at = at.min(tag.len());
        }
        out.push((name, value));
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_a_page_brings() {
        let source = "<!-- <script>no</script> -->\n<link href=a.css rel='Stylesheet'><link rel=icon href=b>\n<script src=\"x.js\" defer></script><SCRIPT>const a = 1 < 2</SCRIPT>\n<script type=module>import 'y'</script><script type=\"application/json\">{}</script>";
        let found: Vec<Brought> = brought(source).into_iter().map(|(_, b)| b).collect();
        let script =
            |text: &str, src: Option<&str>, module, late| Brought::Script { text: text.into(), src: src.map(str::to_owned), module, late };
        assert_eq!(
            found,
            [
                Brought::Sheet("a.css".into()),
                script("", Some("x.js"), false, true),
                script("const a = 1 < 2", None, false, false),
                script("import 'y'", None, true, true),
            ]
        );
        assert_eq!(inline_script(source, 3).as_deref(), Some("\n\n\nimport 'y'"));
    }

    #[test]
    fn declarations_of_classic_scripts_are_shared() {
        assert_eq!(
            shared("const a = 1; let b\nclass C {}\nfunction f() { const g = 1 }"),
            "var a = 1; var b\nvar C = class C {};\nfunction f() { const g = 1 }"
        );
    }

    #[test]
    fn addresses_of_packages() {
        for (address, means) in [
            ("https://cdn.example/npm/alpinejs@3.14.1/dist/cdn.min.js", Some(("alpinejs", "dist/cdn.min.js"))),
            ("https://cdn.example/@studio/kiln@1/kiln.js", Some(("@studio/kiln", "kiln.js"))),
            ("https://cdn.example/kiln.js", None),
            ("./kiln@1.js", None),
        ] {
            assert_eq!(package(address), means.map(|(a, b)| (a.to_owned(), b.to_owned())), "{address}");
        }
    }
}
