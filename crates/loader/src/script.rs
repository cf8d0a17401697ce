//! Scripts: types stripped, JSX compiled, CommonJS wrapped, by `oxc`.

use std::path::Path;

use oxc::allocator::Allocator;
use oxc::codegen::{Codegen, CodegenOptions};
use oxc::diagnostics::OxcDiagnostic;
use oxc::parser::Parser;
use oxc::semantic::SemanticBuilder;
use oxc::span::SourceType;
use oxc::transformer::{TransformOptions, Transformer};
use serde::{Deserialize, Serialize};

use crate::error::LoadError;

/// A script that can run.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub struct Script {
    /// The text; none when the source can run as it stands.
    pub code: Option<String>,
    /// True for CommonJS.
    pub common: bool,
    /// The source map from `code` to the source.
    pub map: Option<String>,
}

/// What surrounds the text of a CommonJS file: a module whose default export is the wrapper function. All on the first
/// line, so that lines stay what they were.
pub const WRAPPER: (&str, &str) = ("export default function (module, exports, require, __filename, __dirname) {", "\n}");

/// Turns a script into one that runs. `language` overrides what the file name says (`ts`, `tsx`, `jsx`, `js`).
///
/// # Errors
/// [`LoadError`] at the first syntax error.
pub fn transform(path: &str, source: &str, language: Option<&str>) -> Result<Script, LoadError> {
    let named = language.map_or_else(|| SourceType::from_path(Path::new(path)), SourceType::from_extension);
    let mut source_type = named.unwrap_or_else(|_| SourceType::mjs());
    let plain = source_type.is_javascript();
    // Whether a file is a module is told by what it holds; JSX is common in files named .js.
    source_type = source_type.with_unambiguous(true);
    let jsx = !plain || !path.contains("/node_modules/") || path.ends_with(".jsx");
    if plain {
        source_type = source_type.with_jsx(jsx);
    }
    let allocator = Allocator::default();
    let parsed = Parser::new(&allocator, source, source_type).parse();
    if let Some(fault) = parsed.diagnostics.iter().next() {
        return Err(syntax_error(path, source, fault));
    }
    let is_module = parsed.module_record.has_module_syntax;
    let needs_work = !plain || (jsx && (source.contains("</") || source.contains("/>")));
    if !needs_work {
        return Ok(Script { code: None, common: !is_module && looks_common(source), map: None });
    }
    let mut program = parsed.program;
    let semantic = SemanticBuilder::new().with_excess_capacity(2.0).with_enum_eval(true).build(&program);
    let scoping = semantic.semantic.into_scoping();
    let transformed = Transformer::new(&allocator, Path::new(path), &options()).build_with_scoping(scoping, &mut program);
    if let Some(fault) = transformed.diagnostics.iter().next() {
        return Err(syntax_error(path, source, fault));
    }
    let options = CodegenOptions { source_map_path: Some(path.into()), ..CodegenOptions::default() };
    let printed = Codegen::new().with_options(options).with_scoping(Some(transformed.scoping)).build(&program);
    let map = printed.map.map(|m| m.to_json_string());
    Ok(Script { code: Some(printed.code), common: !is_module && looks_common(source), map })
}

fn options() -> TransformOptions {
    let mut options = TransformOptions::default();
    options.jsx.development = false;
    options.jsx.pure = false;
    options
}

/// A script without import or export is CommonJS when it speaks of `module`, `exports` or `require`.
fn looks_common(source: &str) -> bool {
    ["module", "exports", "require("].iter().any(|word| source.contains(word))
}

fn syntax_error(path: &str, source: &str, fault: &OxcDiagnostic) -> LoadError {
    let offset = fault.labels.first().map(|l| l.offset() as usize);
    let message = format!("syntax error: {}", fault.message);
    match offset {
        Some(offset) => {
            let (line, column) = fidelon_source::place_of(source, offset);
            LoadError::at(path, line, column, message)
        }
        None => LoadError::of_file(path, message),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_needs_no_work_is_left_alone() {
        let esm = transform("a.js", "export const a = 1;", None).expect("parses");
        assert_eq!(esm, Script { code: None, common: false, map: None });
        let cjs = transform("a.js", "module.exports = 1;", None).expect("parses");
        assert!(cjs.common && cjs.code.is_none());
    }

    #[test]
    fn types_and_jsx_go() {
        let ts =
            transform("a.tsx", "enum Unit { C, F }\nexport const A = (p: { u?: Unit }) => <b title={p.u!}>x</b>;", None).expect("parses");
        let code = ts.code.expect("changed");
        assert!(code.contains("react/jsx-runtime") && !code.contains("Unit }") && !code.contains('!'), "{code}");
        assert!(ts.map.is_some());
    }

    #[test]
    fn a_syntax_error_has_its_place() {
        let error = transform("a.ts", "const a = 1;\nconst = 2;", None).expect_err("bad");
        assert_eq!(error.at, Some((2, 7)), "{error:?}");
    }
}
