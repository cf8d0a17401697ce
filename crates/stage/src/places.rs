//! From the engine's stacks to places in the user's own source.

use std::path::Path;

use fidelon_loader::Loader;
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

/// The innermost place of a stack that lies in the project's own files; where none does, the innermost in a package. None where it is
/// in what a compiler wrote by itself.
pub fn own_place(stack: &str, loader: &Loader, root: &Path) -> Option<Place> {
    let mut places = frames(stack).filter(|(file, ..)| file.starts_with('/'));
    let first = places.next()?;
    let own = |(file, ..): &(&str, u32, u32)| !file.contains("/node_modules/");
    let (file, line, column) = if own(&first) { first } else { places.find(own).unwrap_or(first) };
    let (line, column) = loader.original(file.strip_suffix("?commonjs").unwrap_or(file), line, column)?;
    Some(Place { file: shown(file, root), line, column })
}

/// A path as the person knows it: relative to the project where it lies within.
pub fn shown(file: &str, root: &Path) -> String {
    let file = file.split('?').next().unwrap_or(file);
    Path::new(file).strip_prefix(root).map_or_else(|_| file.to_owned(), |p| p.to_string_lossy().into_owned())
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn frames_are_read() {
        let stack =
            "    at raise (/s/node_modules/vue/a.js:1:2)\n    at <anonymous> (/s/Kiln Dial.vue:12:5)\n    at native\n    at /s/b.js:3:4\n";
        let all: Vec<_> = frames(stack).collect();
        assert_eq!(all, [("/s/node_modules/vue/a.js", 1, 2), ("/s/Kiln Dial.vue", 12, 5), ("/s/b.js", 3, 4)]);
    }
}
