//! Vue single-file components: compiled by the project's own `@vue/compiler-sfc`, then treated like any script.

use serde::Deserialize;

use crate::error::LoadError;

/// The function body that runs beside the compiler: `(compiler, input) => output`.
pub const GLUE: &str = include_str!("../js/vue-compile.js");

/// The compiler's module, tried in this order from the component's folder. The browser build needs nothing of Node.
pub const COMPILERS: [&str; 2] = ["@vue/compiler-sfc/dist/compiler-sfc.esm-browser.js", "vue/compiler-sfc"];

/// What the glue gives.
#[derive(Debug, Deserialize)]
#[serde(rename_all = "camelCase")]
pub struct Output {
    /// The component as a module, types still in it.
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
