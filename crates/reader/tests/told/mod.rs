//! A surface in a few lines, so that tables of tests can be read.

use std::path::{Path, PathBuf};

use fidelon_core::surface::{Surface, Type};
use fidelon_reader::{Imports, surfaces};
use fidelon_source::MemoryFiles;

/// Packages and aliases of a made-up project.
pub struct Shelves {
    /// The file of each name.
    pub files: Vec<(&'static str, &'static str)>,
    /// The file of the code of each name, where that is another one.
    pub code: Vec<(&'static str, &'static str)>,
    /// Whose JSX its files hold.
    pub jsx: &'static str,
}

impl Default for Shelves {
    fn default() -> Self {
        Self { files: Vec::new(), code: Vec::new(), jsx: "react" }
    }
}

impl Imports for Shelves {
    fn types(&self, _: &Path, specifier: &str) -> Option<PathBuf> {
        self.files.iter().find(|(name, _)| *name == specifier).map(|(_, file)| PathBuf::from(file))
    }

    fn code(&self, _: &Path, specifier: &str) -> Option<PathBuf> {
        self.code.iter().find(|(name, _)| *name == specifier).map(|(_, file)| PathBuf::from(file))
    }

    fn jsx(&self, _: &Path, _: &str) -> String {
        self.jsx.to_owned()
    }
}

/// The surface of the one component of a file, in words.
#[allow(dead_code, reason = "some test files need other files about")]
pub fn told(name: &str, source: &str) -> String {
    told_among(name, MemoryFiles::default().with(name, source), &Shelves::default())
}

/// The same with other files about.
pub fn told_among(name: &str, files: MemoryFiles, shelves: &Shelves) -> String {
    let found = surfaces(&files, shelves, Path::new(name), name).expect("can be read");
    found.iter().map(words).collect::<Vec<_>>().join("\n---\n")
}

fn words(surface: &Surface) -> String {
    let mut out = vec![format!("{} ({})", surface.name, surface.export)];
    for p in &surface.props {
        let mark = if p.required { "" } else { "?" };
        let default = p.default.as_ref().map(|d| format!(" = {d}")).unwrap_or_default();
        let two_way = if p.two_way { " two-way" } else { "" };
        let about = p.about.as_ref().map(|a| format!(" // {a}")).unwrap_or_default();
        out.push(format!("  {}{mark}: {}{default}{two_way}{about}", p.name, type_words(&p.ty)));
    }
    for e in &surface.events {
        let reports = e.reports.as_ref().map(|r| format!(" reports {r}")).unwrap_or_default();
        out.push(format!("  on {} ({}){reports}", e.name, e.written));
    }
    out.extend(surface.slots.iter().map(|s| format!("  slot {}{}", s.name, if s.exposes { " exposes" } else { "" })));
    out.extend(surface.exposes.iter().map(|m| format!("  member {m}")));
    if surface.open {
        out.push("  and more".into());
    }
    out.join("\n")
}

fn type_words(ty: &Type) -> String {
    match ty {
        Type::String => "text".into(),
        Type::Number => "number".into(),
        Type::Boolean => "boolean".into(),
        Type::Union { of } => of.iter().map(ToString::to_string).collect::<Vec<_>>().join(" | "),
        Type::Array { of } => format!("[{}]", type_words(of)),
        Type::Object { fields } => {
            let fields: Vec<_> =
                fields.iter().map(|f| format!("{}{}: {}", f.name, if f.required { "" } else { "?" }, type_words(&f.ty))).collect();
            format!("{{ {} }}", fields.join(", "))
        }
        Type::Function => "function".into(),
        Type::Node => "node".into(),
        Type::Date => "date".into(),
        Type::Either { of } => format!("({})", of.iter().map(type_words).collect::<Vec<_>>().join(" or ")),
        Type::Tuple { of } => format!("({})", of.iter().map(type_words).collect::<Vec<_>>().join(", ")),
        Type::Unresolved { text } => format!("?{text}?"),
    }
}

/// Compares with a text whose indentation is that of the test.
#[allow(dead_code, reason = "some test files ask for single answers")]
#[track_caller]
pub fn assert_told(told: &str, wanted: &str) {
    let lines: Vec<&str> = wanted.lines().filter(|l| !l.trim().is_empty()).collect();
    let indent = lines.iter().map(|l| l.len() - l.trim_start().len()).min().unwrap_or(0);
    let wanted: String = lines.iter().map(|l| &l[indent..]).collect::<Vec<_>>().join("\n");
    assert_eq!(told, wanted, "\ntold:\n{told}\n");
}
