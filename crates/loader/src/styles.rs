//! Stylesheets as projects have them: Sass by `grass`, CSS modules by `lightningcss`.

use std::borrow::Cow;
use std::cell::RefCell;
use std::io;
use std::path::{Path, PathBuf};
use std::sync::LazyLock;

use fidelon_source::bytes_of;
use grass_compiler::{Fs, InputSyntax, Options};
use lightningcss::css_modules::{Config, CssModuleReference, Pattern};
use lightningcss::printer::PrinterOptions;
use lightningcss::stylesheet::{ParserOptions, StyleSheet};
use regex::Regex;
use serde_json::{Map, Value as Json};

use crate::error::LoadError;
use crate::resolve::Aliases;

/// True for what Sass compiles.
pub fn is_sass(extension: &str) -> bool {
    extension == "scss" || extension == "sass"
}

/// Files that a stylesheet takes over, read within the project alone.
struct Within<'a> {
    allowed: &'a dyn Fn(&str) -> bool,
    /// What the project calls its folders.
    named: &'a [(String, PathBuf)],
    read: RefCell<Vec<String>>,
}

impl std::fmt::Debug for Within<'_> {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        f.write_str("Within")
    }
}

impl Within<'_> {
    /// The path that one leads to in which a name stands for a folder: `/studio/src/@theme/tones` → `/studio/theme/tones`.
    fn meant<'p>(&self, path: &'p Path) -> Cow<'p, Path> {
        let text = path.to_string_lossy();
        let named = self.named.iter().find_map(|(name, folder)| Some(folder.join(text.split_once(&format!("/{name}/"))?.1)));
        named.map_or(Cow::Borrowed(path), Cow::Owned)
    }

    fn allows(&self, path: &Path) -> bool {
        path.canonicalize().is_ok_and(|real| (self.allowed)(&real.to_string_lossy()))
    }
}

impl Fs for Within<'_> {
    fn is_dir(&self, path: &Path) -> bool {
        self.meant(path).is_dir()
    }
    fn is_file(&self, path: &Path) -> bool {
        let path = self.meant(path);
        path.is_file() && self.allows(&path)
    }
    fn read(&self, path: &Path) -> io::Result<Vec<u8>> {
        let path = &*self.meant(path);
        if !self.allows(path) {
            return Err(io::Error::from(io::ErrorKind::PermissionDenied));
        }
        self.read.borrow_mut().push(path.to_string_lossy().into_owned());
        bytes_of(path)
    }
}

/// The rules of a text in Sass, and the files that it took over. They are looked for beside it, in `folders`, in those that `project` names, and
/// in packages; `allowed` tells which may be read.
///
/// # Errors
/// [`LoadError`] at the place that Sass tells.
pub fn sass(
    path: &str,
    text: &str,
    extension: &str,
    (project, folders): (&Aliases, &[PathBuf]),
    allowed: &dyn Fn(&str) -> bool,
) -> Result<(String, Vec<String>), LoadError> {
    let folder = Path::new(path).parent().unwrap_or(Path::new("/"));
    let packages: Vec<PathBuf> = folder.ancestors().map(|a| a.join("node_modules")).filter(|m| m.is_dir()).collect();
    let files = Within { allowed, named: &project.named, read: RefCell::default() };
    let syntax = if extension == "sass" { InputSyntax::Sass } else { InputSyntax::Scss };
    let options = Options::default()
        .fs(&files)
        .input_syntax(syntax)
        .load_path(folder)
        .load_paths(folders)
        .load_paths(&project.sass.folders)
        .load_paths(&packages)
        .quiet(true);
    // Packages used to be marked by a tilde.
    let plain = text.replace("'~", "'").replace("\"~", "\"");
    let plain = of_css(&plain);
    // Lines are told as they are in the file.
    let first = project.sass.first.trim_end();
    let (plain, before) = if first.is_empty() { (plain, 0) } else { (format!("{first}\n{plain}").into(), first.matches('\n').count() + 1) };
    match grass_compiler::from_string(plain, &options) {
        Ok(css) => Ok((css, files.read.into_inner())),
        Err(error) => {
            let told = error.to_string().lines().next().unwrap_or_default().to_owned();
            let (message, at) = match error.kind() {
                grass_compiler::ErrorKind::ParseError { message, loc, .. } => {
                    (message, Some(((loc.begin.line + 1).saturating_sub(before).max(1), loc.begin.column + 1)))
                }
                _ => (told, None),
            };
            let is_unknown = ["Undefined ", "Can't find stylesheet"].iter().any(|words| message.starts_with(words));
            let hint =
                if is_unknown { " What the project's own build puts before each text is said under `[sass]` in fidelon.toml." } else { "" };
            let message = format!("Sass: {message}{hint}");
            let number = |n: usize| u32::try_from(n).unwrap_or(1);
            Err(match at {
                Some((line, column)) => LoadError::at(path, number(line), number(column), message),
                None => LoadError::of_file(path, message),
            })
        }
    }
}

/// A text in Sass whose functions of CSS (Values 4 §10) are texts, where Sass has functions of the same names that take less: `round(up, $a, 1px)`
/// → `#{"round(up, #{$a}, 1px)"}`. Lines stay what they were.
fn of_css(text: &str) -> Cow<'_, str> {
    static CALL: LazyLock<Regex> = LazyLock::new(|| Regex::new(r"(?:^|[^\w.$-])(?:round|abs)\(").expect("the pattern is well-formed"));
    static VARIABLE: LazyLock<Regex> = LazyLock::new(|| Regex::new(r"(?:[\w-]+\.)?\$[\w-]+").expect("the pattern is well-formed"));
    let (mut out, mut from) = (String::new(), 0);
    for call in CALL.find_iter(text) {
        if call.start() < from {
            continue;
        }
        let opened = call.end();
        let Some(length) = closing(&text[opened..]) else { continue };
        let inner = &text[opened..opened + length];
        let start = opened - text[..opened].bytes().rev().skip(1).take_while(u8::is_ascii_alphabetic).count() - 1;
        let is_of_css =
            ["var(", "calc(", "env("].iter().any(|f| inner.contains(f)) || has_several(inner) && text[start..].starts_with("round");
        if !is_of_css || inner.contains("#{") {
            continue;
        }
        let whole = text[start..=opened + length].replace('"', "\\\"").replace('\n', " ");
        out.push_str(&text[from..start]);
        out.push_str(&format!("#{{\"{}\"}}", VARIABLE.replace_all(&whole, "#{$0}")));
        out.extend(inner.matches('\n'));
        from = opened + length + 1;
    }
    if from == 0 {
        return Cow::Borrowed(text);
    }
    out.push_str(&text[from..]);
    Cow::Owned(out)
}

/// Where the bracket is that closes one which stands before a text.
fn closing(text: &str) -> Option<usize> {
    let mut depth = 0usize;
    text.bytes().take(MOST_ARGUMENTS).position(|c| {
        match c {
            b'(' => depth += 1,
            b')' if depth == 0 => return true,
            b')' => depth -= 1,
            _ => {}
        }
        false
    })
}

/// Bytes of the arguments of one function, at most: a bracket that is never closed is not looked for to the end of the text each time.
const MOST_ARGUMENTS: usize = 4096;

/// Whether there is more than one argument.
fn has_several(arguments: &str) -> bool {
    let mut depth = 0usize;
    arguments.bytes().any(|c| {
        match c {
            b'(' => depth += 1,
            b')' => depth = depth.saturating_sub(1),
            _ => {}
        }
        c == b',' && depth == 0
    })
}

/// A CSS module: its rules with the names of classes as they are written, since each component is alone on its page, and what each name
/// is exported as, with those that it is composed of. `other` gives the exports of another module.
///
/// # Errors
/// [`LoadError`] where it is no CSS.
pub fn module(
    path: &str,
    css: &str,
    other: &mut dyn FnMut(&str) -> Option<Map<String, Json>>,
) -> Result<(String, Map<String, Json>), LoadError> {
    let wrong = |message: String| LoadError::of_file(path, format!("CSS module: {message}"));
    let pattern = Pattern::parse("[local]").map_err(|e| wrong(e.to_string()))?;
    let css_modules = Some(Config { pattern, ..Config::default() });
    let options = ParserOptions { filename: path.to_owned(), css_modules, error_recovery: true, ..ParserOptions::default() };
    let sheet = StyleSheet::parse(css, options).map_err(|e| wrong(e.to_string()))?;
    let printed = sheet.to_css(PrinterOptions::default()).map_err(|e| wrong(e.to_string()))?;
    let mut names: Vec<(String, Vec<String>)> = Vec::new();
    for (name, export) in printed.exports.unwrap_or_default() {
        let mut all = vec![export.name];
        for composed in &export.composes {
            match composed {
                CssModuleReference::Local { name } | CssModuleReference::Global { name } => all.push(name.clone()),
                CssModuleReference::Dependency { name, specifier } => {
                    let theirs = other(specifier).and_then(|names| names.get(name).and_then(Json::as_str).map(str::to_owned));
                    all.push(theirs.unwrap_or_else(|| name.clone()));
                }
            }
        }
        names.push((name, all));
    }
    // The exports come in no order.
    names.sort();
    Ok((printed.code, names.into_iter().map(|(name, all)| (name, Json::from(all.join(" ")))).collect()))
}

/// The source of a component of Vue or Svelte with its styles in plain CSS. Lines stay what they were.
///
/// # Errors
/// See [`sass`].
pub fn in_blocks<'s>(
    path: &str,
    source: &'s str,
    project: &Aliases,
    allowed: &dyn Fn(&str) -> bool,
    reads: &mut Vec<String>,
) -> Result<Cow<'s, str>, LoadError> {
    let mut out = String::new();
    let mut from = 0;
    while let Some(start) = source[from..].find("<style").map(|i| from + i) {
        let Some(open) = source[start..].find('>').map(|i| start + i + 1) else { break };
        let Some(close) = source[open..].find("</style").map(|i| open + i) else { break };
        let tag = &source[start..open];
        let language =
            ["scss", "sass"].into_iter().find(|l| tag.contains(&format!("lang=\"{l}\"")) || tag.contains(&format!("lang='{l}'")));
        out.push_str(&source[from..start]);
        match language {
            None => out.push_str(&source[start..close]),
            Some(language) => {
                let text = &source[open..close];
                let line = u32::try_from(source[..open].matches('\n').count()).unwrap_or(0);
                let (css, read) = sass(path, text, language, (project, &[]), allowed).map_err(|mut error| {
                    error.at = error.at.map(|(l, c)| (l + line, c));
                    error
                })?;
                reads.extend(read);
                out.push_str(&tag.replace(&format!("lang=\"{language}\""), "").replace(&format!("lang='{language}'"), ""));
                out.push_str(&css.replace('\n', " "));
                out.extend(text.matches('\n'));
            }
        }
        from = close;
    }
    if from == 0 {
        return Ok(Cow::Borrowed(source));
    }
    out.push_str(&source[from..]);
    Ok(Cow::Owned(out))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn functions_of_css_are_left_to_the_page() {
        let css = |text: &str| {
            sass("/p/a.scss", text, "scss", (&Aliases::default(), &[]), &|_| true)
                .map(|(css, _)| css.split_whitespace().collect::<Vec<_>>().join(" "))
        };
        let cases = [
            ("a { height: round(nearest, calc(0.7 * var(--s)), 1px) }", "a { height: round(nearest, calc(0.7 * var(--s)), 1px); }"),
            ("$k: 3px;\na { width: round(up, $k,\n  2px) }", "a { width: round(up, 3px, 2px); }"),
            ("a { width: abs(var(--s)); height: round(2.4px) }", "a { width: abs(var(--s)); height: 2px; }"),
            ("a { width: abs(-3px); height: my-round(2, 3) }", "a { width: 3px; height: my-round(2, 3); }"),
        ];
        for (text, wanted) in cases {
            assert_eq!(css(text).expect(text), wanted);
        }
        // What follows is told at its own line.
        let error = css("a { width: round(up, 1px,\n 2px); color: $none }").expect_err("it names nothing");
        assert_eq!(error.at.map(|(line, _)| line), Some(2));
    }
}
