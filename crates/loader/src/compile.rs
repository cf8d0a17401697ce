//! Files that their framework compiles: by the compiler that the project has installed, then treated like any script.

use std::path::Path;

use serde::Deserialize;

use crate::error::LoadError;
use crate::resolve::{Importing, Resolvers};

/// A framework's compiler.
#[derive(Debug, Clone, Copy)]
pub struct Compiler {
    /// The modules that it consists of, each with the places where it is looked for, in this order from the file's folder.
    modules: &'static [&'static [(&'static str, Importing)]],
    /// What is to be installed where one is missing.
    package: &'static str,
    /// The function that runs beside it: `([module, …], input, readFile, typesOf) => output`.
    pub glue: &'static str,
}

/// Single-file components of Vue. The browser build needs nothing of Node.
pub const VUE: Compiler = Compiler {
    modules: &[&[
        ("@vue/compiler-sfc/dist/compiler-sfc.esm-browser.js", Importing::Module),
        // Where packages lie apart (pnpm, Yarn), it is known to `vue` alone.
        ("vue/compiler-sfc", Importing::Module),
    ]],
    package: "vue",
    glue: include_str!("../js/vue-compile.js"),
};

/// Components and rune modules of Svelte 5. Its CommonJS build is one file.
pub const SVELTE: Compiler =
    Compiler { modules: &[&[("svelte/compiler", Importing::CommonJs)]], package: "svelte", glue: include_str!("../js/svelte-compile.js") };

/// What is given to the compiler of Svelte. What it says of a file at run time names it as it lies in its package: the same on every machine.
pub fn svelte_input(path: &str, source: impl AsRef<str>) -> serde_json::Value {
    let path_of = Path::new(path);
    let package = path_of.ancestors().skip(1).find(|folder| folder.join("package.json").is_file()).or_else(|| path_of.parent());
    let root = package.map_or_else(String::new, |folder| folder.to_string_lossy().into_owned());
    serde_json::json!({ "filename": path, "rootDir": root, "source": source.as_ref() })
}

/// JSX of Solid: Babel with the preset of the framework, as every build of such a project has them.
pub const SOLID: Compiler = Compiler {
    modules: &[&[("@babel/core", Importing::CommonJs)], &[("babel-preset-solid", Importing::CommonJs)]],
    package: "babel-preset-solid",
    glue: include_str!("../js/solid-compile.js"),
};

impl Compiler {
    /// The files of its modules, for a file of the project.
    ///
    /// # Errors
    /// [`LoadError`] says what to install.
    pub fn find(&self, path: &str, resolvers: &Resolvers) -> Result<Vec<String>, LoadError> {
        let find = |places: &&[(&str, Importing)]| places.iter().find_map(|(name, how)| resolvers.resolve(path, name, *how).ok());
        let found: Option<Vec<String>> = self.modules.iter().map(find).collect();
        found.ok_or_else(|| resolvers.not_installed(path, self.package, self.package))
    }
}

/// What the glue gives.
#[derive(Debug, Deserialize)]
#[serde(rename_all = "camelCase")]
pub struct Output {
    /// The component as a module, types still in it where `language` says so.
    #[serde(default)]
    pub code: String,
    /// `ts`, `tsx`, `jsx` or `js`.
    #[serde(default)]
    pub language: String,
    /// The source map from `code` to the file.
    pub map: Option<String>,
    /// Files whose types it read.
    #[serde(default)]
    pub reads: Vec<String>,
    /// Set when it could not be compiled.
    pub fault: Option<Fault>,
}

/// A fault that the compiler found.
#[derive(Debug, Deserialize)]
pub struct Fault {
    message: String,
    line: Option<u32>,
    column: Option<u32>,
}

impl Fault {
    /// The fault as an error of this file.
    pub fn into_error(self, path: &str) -> LoadError {
        let message = self.message.lines().next().unwrap_or_default().replace("[@vue/compiler-sfc] ", "");
        let message = format!("it does not compile: {message}");
        match (self.line, self.column) {
            (Some(line), Some(column)) => LoadError::at(path, line, column, message),
            _ => LoadError::of_file(path, message),
        }
    }
}
