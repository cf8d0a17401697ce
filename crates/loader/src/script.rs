//! Scripts: types stripped, JSX compiled, CommonJS wrapped, by `oxc`.

use std::path::Path;

use oxc::allocator::Allocator;
use oxc::ast::ast::Decorator;
use oxc::ast_visit::Visit;
use oxc::codegen::{Codegen, CodegenOptions};
use oxc::diagnostics::OxcDiagnostic;
use oxc::parser::Parser;
use oxc::semantic::SemanticBuilder;
use oxc::span::SourceType;
use oxc::transformer::{HelperLoaderMode, TransformOptions, Transformer};
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

/// What is known of a script beside its text.
#[derive(Debug, Clone, Default)]
pub struct Wanted {
    /// Overrides what the file name says: `ts`, `tsx`, `jsx`, `js`.
    pub language: Option<String>,
    /// The package whose functions JSX calls; React's without one.
    pub import_source: Option<String>,
    /// Whether decorators are told the types of what they stand at, as a project may ask of TypeScript (`emitDecoratorMetadata`).
    pub metadata: bool,
}

/// Turns a script into one that runs.
///
/// # Errors
/// [`LoadError`] at the first syntax error.
pub fn transform(path: &str, source: &str, wanted: &Wanted) -> Result<Script, LoadError> {
    let named = wanted.language.as_deref().map_or_else(|| SourceType::from_path(Path::new(path)), SourceType::from_extension);
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
    let marked = ["</", "/>", "\n@", "  @"].iter().any(|m| source.contains(m));
    let needs_work = !plain || (jsx && marked);
    if !needs_work {
        return Ok(Script { code: None, common: !is_module && looks_common(source), map: None });
    }
    let mut program = parsed.program;
    let mut decorated = Decorated(false);
    decorated.visit_program(&program);
    let decorated = decorated.0;
    let semantic = SemanticBuilder::new().with_excess_capacity(2.0).with_enum_eval(true).build(&program);
    let scoping = semantic.semantic.into_scoping();
    let transformed =
        Transformer::new(&allocator, Path::new(path), &options(decorated, !plain, wanted)).build_with_scoping(scoping, &mut program);
    if let Some(fault) = transformed.diagnostics.iter().next() {
        return Err(syntax_error(path, source, fault));
    }
    let options = CodegenOptions { source_map_path: Some(path.into()), ..CodegenOptions::default() };
    let printed = Codegen::new().with_options(options).with_scoping(Some(transformed.scoping)).build(&program);
    let map = printed.map.map(|m| m.to_json_string());
    if decorated {
        // One line more before all others.
        let code = format!("{DECORATE}\n{}", printed.code);
        let map = map.map(|m| m.replacen("\"mappings\":\"", "\"mappings\":\";", 1));
        return Ok(Script { code: Some(code), common: !is_module && looks_common(source), map });
    }
    Ok(Script { code: Some(printed.code), common: !is_module && looks_common(source), map })
}

/// Whether a class is decorated.
struct Decorated(bool);

impl<'a> Visit<'a> for Decorated {
    fn visit_decorator(&mut self, _: &Decorator<'a>) {
        self.0 = true;
    }
}

/// What lowered decorators call (TypeScript's `experimentalDecorators`).
const DECORATE: &str = "const babelHelpers = { decorate(decorators, target, key, descriptor) { \
    const given = arguments.length; \
    let out = given < 3 ? target : descriptor === null ? descriptor = Object.getOwnPropertyDescriptor(target, key) : descriptor; \
    for (let i = decorators.length - 1; i >= 0; i--) if (decorators[i]) out = (given < 3 ? decorators[i](out) : given > 3 ? decorators[i](target, key, out) : decorators[i](target, key)) || out; \
    if (given > 3 && out) Object.defineProperty(target, key, out); \
    return out; }, \
    decorateParam(index, decorator) { return (target, key) => decorator(target, key, index); }, \
    decorateMetadata(key, value) { return typeof Reflect.metadata === 'function' ? Reflect.metadata(key, value) : undefined; } };";

fn options(decorated: bool, source_is_typed: bool, wanted: &Wanted) -> TransformOptions {
    let mut options = TransformOptions::default();
    if decorated {
        // Decorators of libraries lay accessors over fields: fields are assigned, not defined, as their set-up asks of TypeScript.
        options.decorator.legacy = true;
        options.decorator.emit_decorator_metadata = source_is_typed && wanted.metadata;
        options.assumptions.set_public_class_fields = true;
        options.typescript.remove_class_fields_without_initializer = true;
        options.helper_loader.mode = HelperLoaderMode::External;
    }
    options.jsx.import_source.clone_from(&wanted.import_source);
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
        let esm = transform("a.js", "export const a = 1;", &Wanted::default()).expect("parses");
        assert_eq!(esm, Script { code: None, common: false, map: None });
        let cjs = transform("a.js", "module.exports = 1;", &Wanted::default()).expect("parses");
        assert!(cjs.common && cjs.code.is_none());
    }

    #[test]
    fn types_and_jsx_go() {
        let ts = transform("a.tsx", "enum Unit { C, F }\nexport const A = (p: { u?: Unit }) => <b title={p.u!}>x</b>;", &Wanted::default())
            .expect("parses");
        let code = ts.code.expect("changed");
        assert!(code.contains("react/jsx-runtime") && !code.contains("Unit }") && !code.contains('!'), "{code}");
        assert!(ts.map.is_some());
    }

    #[test]
    fn a_syntax_error_has_its_place() {
        let error = transform("a.ts", "const a = 1;\nconst = 2;", &Wanted::default()).expect_err("bad");
        assert_eq!(error.at, Some((2, 7)), "{error:?}");
    }
}
