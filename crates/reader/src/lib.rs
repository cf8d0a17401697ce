//! Reads what components declare, from source alone: nothing is run.
//!
//! | module | subject |
//! |---|---|
//! | [`find`] | the components of a project |
//! | [`sfc`] | the blocks of a single-file component, and the slots of its template |
//! | [`depth`] | how deep a script may nest |
//! | [`program`] | parsed scripts and what their names mean |
//! | [`types`] | TypeScript types → declared types |
//! | [`fallback`] | what a slot shows while it is empty, in JSX and in Svelte's markup |
//! | [`vue`] | Vue: macros and options |
//! | [`react`] | React, Preact, Solid: function components |
//! | [`svelte`] | Svelte: `$props()`, snippets, and the form of Svelte 4 |
//! | [`angular`] | Angular: decorated classes |
//! | [`element`] | standard custom elements |
//! | [`html`] | plain HTML |
//! | [`markup`] | tags, attributes and expressions of a template, where they stand |
//! | [`origin`] | where an element of a document was written |
//! | [`unused`] | what a component declares and nothing in its source uses |
//! | [`uses`] | the children that a component shows, and what it passes to each |

pub mod angular;
mod choices;
pub mod depth;
pub mod element;
pub mod fallback;
pub mod find;
pub mod html;
pub mod markup;
pub mod origin;
pub mod program;
mod prop_types;
pub mod react;
pub mod sfc;
pub mod svelte;
pub mod types;
pub mod unused;
pub mod uses;
mod validator;
pub mod vue;
pub mod words;

use std::path::Path;

use fidelon_core::Surface;
use fidelon_core::surface::Framework;
use fidelon_source::{Files, Place};

pub use find::{LeftOut, components_in, folders_in, is_component_file, is_page, may_declare_components};
pub use program::{Imports, NoImports, Sources};

/// The surfaces of all components in a file. `shown` is the path as results name it.
///
/// # Errors
/// A message when the file cannot be read at all. A file with a syntax error still has a surface, an open one: the loader
/// tells the error.
pub fn surfaces(files: &dyn Files, imports: &dyn Imports, path: &Path, shown: &str) -> Result<Vec<Surface>, String> {
    let opened = program::Opened::default();
    let sources = Sources { files, imports, opened: &opened };
    let source = files.read(path).map_err(|e| e.to_string())?;
    if depth::is_too_deep(&source) {
        return Err("it nests too deep to be read: put generated data into a JSON file".into());
    }
    let extension = path.extension().and_then(|e| e.to_str()).unwrap_or("");
    let mut out = match extension {
        "vue" if vue::is_base(&source) => Vec::new(),
        "vue" => vec![vue::surface(sources, path, shown, &source)],
        "html" | "htm" => vec![html::surface(path, shown, &source)],
        "svelte" => vec![svelte::surface(sources, path, shown, &source)],
        "js" | "mjs" | "ts" | "mts" => match find::ScriptKind::of(&source) {
            Some(find::ScriptKind::Angular) => angular::surfaces(sources, path, shown, &source),
            Some(find::ScriptKind::Element) => element::surfaces(sources, path, shown, &source),
            Some(find::ScriptKind::Vue) => vue::exported(sources, path, shown, &source),
            Some(find::ScriptKind::Jsx) if react::gives_jsx(sources, path, &source) => of_jsx(sources, path, shown, &source),
            _ => Vec::new(),
        },
        _ => of_jsx(sources, path, shown, &source),
    };
    match extension {
        "vue" => choices::narrow(&mut out, &source, &choices::Parts::of_vue(&source)),
        "svelte" => choices::narrow(&mut out, &source, &choices::Parts::of_svelte(&source)),
        "html" | "htm" => {}
        _ => choices::narrow(&mut out, &source, &choices::Parts::of_script(&source, path)),
    }
    let of_application = if extension == "vue" { vue::lines_of_application(&source) } else { Vec::new() };
    if fidelon_core::judge::missing::asks_around(&source) || !of_application.is_empty() {
        let mut lines = fidelon_core::judge::missing::lines_of_context(&source);
        lines.extend(of_application);
        for surface in &mut out {
            surface.asks_around = true;
            surface.around.clone_from(&lines);
        }
    }
    if fidelon_core::judge::missing::speaks_to_content(&source) {
        out.iter_mut().for_each(|surface| surface.speaks_to_content = true);
    }
    for prop in out.iter_mut().flat_map(|s| &mut s.props) {
        prop.place = prop.place.take().and_then(|place| as_shown(place, path, shown));
    }
    Ok(out)
}

/// What a file with JSX exports, by whose JSX it is.
fn of_jsx(sources: Sources<'_>, path: &Path, shown: &str, source: &str) -> Vec<Surface> {
    match sources.imports.jsx(path, source).as_str() {
        "react" => react::surfaces(sources, path, shown, source, Framework::React),
        "preact" => react::surfaces(sources, path, shown, source, Framework::Preact),
        "vue" => vue::exported(sources, path, shown, source),
        "solid-js" => react::surfaces(sources, path, shown, source, Framework::Solid),
        _ => Vec::new(),
    }
}

/// A place with its file named as results name the component's own; none where it lies outside of the project.
fn as_shown(place: Place, path: &Path, shown: &str) -> Option<Place> {
    let depth = Path::new(shown).components().count();
    let root = path.ancestors().nth(depth).filter(|_| path.ends_with(shown))?;
    let file = Path::new(&place.file).strip_prefix(root).ok()?;
    let names: Vec<_> = file.components().map(|c| c.as_os_str().to_string_lossy()).collect();
    Some(Place { file: names.join("/"), ..place })
}
