//! What is wrong with a file or an import.

use std::path::Path;

use fidelon_source::{DiskFiles, Files as _, place_of};

/// Why a module could not be made. The text is complete: it says what to do.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
#[error("{message}")]
pub struct LoadError {
    /// What is wrong.
    pub message: String,
    /// The file that is at fault.
    pub file: String,
    /// Line and column, from 1, where they are known.
    pub at: Option<(u32, u32)>,
}

impl LoadError {
    /// A fault of a whole file.
    pub fn of_file(file: &str, message: impl Into<String>) -> Self {
        Self { message: message.into(), file: file.into(), at: None }
    }

    /// A fault at a place.
    pub fn at(file: &str, line: u32, column: u32, message: impl Into<String>) -> Self {
        Self { message: message.into(), file: file.into(), at: Some((line, column)) }
    }

    /// The same at the import that it is about, where its file has the words of one.
    #[must_use]
    pub(crate) fn at_import(mut self, specifier: &str) -> Self {
        if self.at.is_none()
            && let Ok(text) = DiskFiles.read(Path::new(&self.file))
        {
            let quoted = ['"', '\'', '`'].iter().filter_map(|quote| text.find(&format!("{quote}{specifier}{quote}"))).min();
            self.at = quoted.map(|at| place_of(&text, at));
        }
        self
    }

    /// `file:line:column: message`, which is how an error passes through the engine as text.
    pub fn to_line(&self) -> String {
        match self.at {
            Some((line, column)) => format!("{}:{line}:{column}: {}", self.file, self.message),
            None => format!("{}: {}", self.file, self.message),
        }
    }

    /// A package that is not installed, and what adds it: `npm install`.
    pub fn not_installed(file: &str, package: &str, specifier: &str, adds: &str) -> Self {
        let asked = if package == specifier { String::new() } else { format!(" (imported as `{specifier}`)") };
        Self::of_file(
            file,
            format!("the package `{package}` is not installed{asked}: add it to the project, for example with `{adds} {package}`"),
        )
    }

    /// A module that is no package by its name, and no file: the project's build makes it, or it lies on the network.
    pub fn no_package(file: &str, specifier: &str) -> Self {
        let cause =
            if specifier.contains("://") { "lies on the network, which no component reaches" } else { "is made by the project's build" };
        let stands = match specifier.split_once('/') {
            Some((name, _)) if !specifier.contains("://") => {
                format!("a folder as `\"{name}\" = \"src/lib\"`, or one file for all as `\"{name}/*\" = \"test/stand-in.js\"`")
            }
            _ => format!("`\"{specifier}\" = \"test/stand-in.js\"`"),
        };
        Self::of_file(file, format!("`{specifier}` {cause}: say under `[alias]` in fidelon.toml what stands for it here: {stands}"))
    }

    /// A file that an import names and that is not there.
    pub fn missing_import(file: &str, specifier: &str) -> Self {
        Self::of_file(file, format!("`{specifier}` is imported, but there is no such file"))
    }
}
