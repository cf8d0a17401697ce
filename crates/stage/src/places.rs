//! From the engine's stacks to places in the user's own source.

use std::path::Path;
use std::rc::Rc;

use fidelon_loader::Loader;
use fidelon_loader::maps::source_of_made;
use fidelon_source::Place;

/// A frame of a stack: `at raise (/studio/KilnDial.vue:12:5)`.
fn frames(stack: &str) -> impl Iterator<Item = (&str, u32, u32)> {
    stack.lines().filter_map(|line| {
        let inner = line.rsplit_once('(').map_or(line.trim().trim_start_matches("at "), |(_, rest)| rest.trim_end().trim_end_matches(')'));
        let (rest, column) = inner.rsplit_once(':')?;
        let (file, line) = rest.rsplit_once(':')?;
        Some((file, line.parse().ok()?, column.parse().ok()?))
    })
}

/// Gives the source map, in base64, of code that was made as the page ran.
pub type Made<'a> = &'a dyn Fn(&str) -> Option<Rc<str>>;

/// The innermost place of a stack that lies in the project's own files, templates that were compiled as the page ran among them; where none
/// does, the innermost in a package. None where it is in what a compiler wrote by itself.
pub fn own_place(stack: &str, loader: &Loader, root: &Path, made: Made<'_>) -> Option<Place> {
    let mut in_package = None;
    for (file, line, column) in frames(stack) {
        if let Some(map) = made(file) {
            if let Some(place) = in_template(file, &map, line, column, loader, root) {
                return Some(place);
            }
        } else if file.starts_with('/') {
            if !file.contains("/node_modules/") {
                return written(file, line, column, loader, root);
            }
            in_package = in_package.or(Some((file, line, column)));
        }
    }
    in_package.and_then(|(file, line, column)| written(file, line, column, loader, root))
}

/// The place that a person wrote of a place in a module.
fn written(file: &str, line: u32, column: u32, loader: &Loader, root: &Path) -> Option<Place> {
    let name = file.strip_suffix("?commonjs").unwrap_or(file);
    let (line, column) = loader.code(name).and_then(|code| returned(code, line, column)).unwrap_or((line, column));
    let (line, column) = loader.original(name, line, column)?;
    Some(Place { file: shown(file, root), line, column })
}

/// The place in a template, in a file of its own or within its class, of a place in what was made of it: `ng:///KilnDial.js`.
fn in_template(name: &str, map: &str, line: u32, column: u32, loader: &Loader, root: &Path) -> Option<Place> {
    let (template, line, column) = source_of_made(map, line, column)?;
    let class = name.rsplit('/').next()?.split('.').next()?;
    let (file, text, at) = loader.holding(class, &template)?;
    let inside = line_start(&template, line)? + usize::try_from(column).ok()?.checked_sub(1)?;
    let (line, column) = fidelon_source::place_of(&text, (at + inside).min(text.len()));
    Some(Place { file: shown(&file, root), line, column })
}

/// Where the work of a function begins whose first word is `return`, for a place that the engine gives as the beginning of its line: of
/// `return this.kiln.heat` it knows no more than the function.
fn returned(code: &str, line: u32, column: u32) -> Option<(u32, u32)> {
    let begin = line_start(code, line).filter(|_| column == 1)?;
    let opened = begin + code[begin..].lines().next()?.rfind('{')? + 1;
    let body = code[opened..].trim_start();
    let value = body.strip_prefix("return").filter(|rest| rest.starts_with(char::is_whitespace))?.trim_start();
    Some(fidelon_source::place_of(code, code.len() - value.len()))
}

/// The index at which a line begins, counted from 1.
fn line_start(code: &str, line: u32) -> Option<usize> {
    let before = usize::try_from(line).ok()?.checked_sub(1)?;
    if before == 0 { Some(0) } else { code.match_indices('\n').nth(before - 1).map(|(at, _)| at + 1) }
}

/// A path as the person knows it: relative to the project where it lies within.
pub fn shown(file: &str, root: &Path) -> String {
    let file = file.split('?').next().unwrap_or(file);
    Path::new(file).strip_prefix(root).map_or_else(|_| file.to_owned(), |p| p.to_string_lossy().into_owned())
}

/// A message in which files of the project are named as they lie in it: compilers name them by their whole path.
pub fn in_project(message: &str, root: &Path) -> String {
    let root = root.to_string_lossy();
    if root.len() < 2 { message.to_owned() } else { message.replace(&format!("{root}{}", std::path::MAIN_SEPARATOR), "") }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn messages_name_files_as_they_lie_in_the_project() {
        let said = in_project("nothing to compile in /studio/kiln/Dial.vue, nor in /studio", Path::new("/studio"));
        assert_eq!(said, "nothing to compile in kiln/Dial.vue, nor in /studio");
    }

    #[test]
    fn a_function_that_returns_at_once_is_placed_at_what_it_returns() {
        let code = "class Kiln {\n  get heat() {\n    return this.fire.heat\n  }\n  cool() { const a = 1; return a }\n}\n";
        assert_eq!(returned(code, 2, 1), Some((3, 12)));
        assert_eq!(returned(code, 2, 3), None, "the engine knows better");
        assert_eq!((returned(code, 5, 1), returned(code, 99, 1), returned(code, 1, 1)), (None, None, None));
    }

    #[test]
    fn frames_are_read() {
        let stack =
            "    at raise (/s/node_modules/vue/a.js:1:2)\n    at <anonymous> (/s/Kiln Dial.vue:12:5)\n    at native\n    at /s/b.js:3:4\n";
        let all: Vec<_> = frames(stack).collect();
        assert_eq!(all, [("/s/node_modules/vue/a.js", 1, 2), ("/s/Kiln Dial.vue", 12, 5), ("/s/b.js", 3, 4)]);
    }
}
