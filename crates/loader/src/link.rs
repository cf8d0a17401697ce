//! Modules as a real browser loads them: specifiers replaced by addresses, CommonJS files by two ES modules.
//!
//! A browser resolves nothing, and cannot run a file to see what it exports. So imports are resolved here, and the names that
//! a CommonJS file exports are read from its text: what it assigns to `exports`, defines on it, or takes over from another file.
//! A CommonJS file becomes a module that registers its wrapper function ([`Form::Register`]), which `require` runs when it is
//! first asked for, and a module that re-exports what came of it ([`Form::Facade`]).

use std::collections::BTreeSet;
use std::fmt::Write as _;

use oxc::allocator::Allocator;
use oxc::ast::ast::{Argument, AssignmentExpression, AssignmentTarget, CallExpression, Expression, ObjectPropertyKind};
use oxc::ast_visit::{Visit, walk};
use oxc::parser::Parser;
use oxc::span::SourceType;
use serde_json::Value as Json;

use crate::error::LoadError;
use crate::loader::{Kind, Loader};
use crate::resolve::Importing;
use crate::script::WRAPPER;

/// What a module is asked for as.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Form {
    /// What an import gets.
    Facade,
    /// A CommonJS file, registered to be required.
    Register,
}

/// Where modules are served: gives the address of a module by name.
pub type Address<'a> = &'a dyn Fn(&str, Form) -> String;

/// The global function through which `import(…)` goes, so that the page knows what it waits for: `(address)`, or
/// `(specifier, name of the importing module)` where the specifier is no literal.
pub const IMPORT: &str = "__import";
/// The global that holds CommonJS files: `define(name, wrapper, required)`, `module(name, namespace)`, `require(name)`.
pub const COMMON: &str = "__common";

impl Loader {
    /// The text of a module for a browser. `ours` are names that are served as they are.
    ///
    /// # Errors
    /// [`LoadError`] says what is wrong with the file, or which of its imports cannot be resolved.
    pub fn linked(&mut self, name: &str, form: Form, address: Address<'_>, ours: &dyn Fn(&str) -> bool) -> Result<String, LoadError> {
        let module = self.load(name)?;
        match (module.kind, form) {
            (Kind::Module, Form::Facade) => self.link(name, name, &module.code, address, ours),
            // Required by a CommonJS file: its namespace is kept for it.
            (Kind::Module, Form::Register) => {
                let at = Json::from(address(name, Form::Facade));
                Ok(format!("import * as m from {at};\n{COMMON}.module({}, m);\n", Json::from(name)))
            }
            (Kind::CommonJs, Form::Facade) => Ok(self.facade(name, address)),
            (Kind::CommonJs, Form::Register) => Ok(self.register(name, &module.code, address)),
        }
    }

    /// An ES module with its specifiers replaced; `from` is the file whose place they are resolved from.
    ///
    /// # Errors
    /// [`LoadError`] when an import cannot be resolved.
    pub fn link(&self, name: &str, from: &str, code: &str, address: Address<'_>, ours: &dyn Fn(&str) -> bool) -> Result<String, LoadError> {
        let from = from.split('?').next().unwrap_or(from);
        let to = |specifier: &str| -> Result<String, LoadError> {
            let found = if ours(specifier) { specifier.to_owned() } else { self.resolve(from, specifier, Importing::Module)? };
            Ok(Json::from(address(&found, Form::Facade)).to_string())
        };
        let allocator = Allocator::default();
        let parsed = Parser::new(&allocator, code, SourceType::mjs()).parse();
        let mut edits: Vec<(usize, usize, String)> = Vec::new();
        for (specifier, places) in &parsed.module_record.requested_modules {
            let address = to(specifier)?;
            edits.extend(places.iter().map(|p| (p.span.start as usize, p.span.end as usize, address.clone())));
        }
        for dynamic in &parsed.module_record.dynamic_imports {
            let (start, end) = (dynamic.module_request.start as usize, dynamic.module_request.end as usize);
            let keyword = (dynamic.span.start as usize, dynamic.span.start as usize + "import".len(), IMPORT.to_owned());
            let written = &code[start..end];
            let literal = written.strip_prefix(['\'', '"', '`']).and_then(|t| t.strip_suffix(['\'', '"', '`']));
            match literal.filter(|l| !l.contains("${")).map(&to) {
                Some(Ok(address)) => edits.push((start, end, address)),
                // It fails when it is called, as it does where it is not served.
                _ => edits.push((start, end, format!("{written}, {}", Json::from(name)))),
            }
            edits.push(keyword);
        }
        edits.sort_by_key(|e| e.0);
        let mut out = String::with_capacity(code.len() + 256);
        let mut at = 0;
        for (start, end, text) in edits {
            out.push_str(&code[at..start]);
            out.push_str(&text);
            at = end;
        }
        out.push_str(&code[at..]);
        Ok(out)
    }

    /// The modules that a module imports or requires, by name, as far as its text tells and they are there.
    ///
    /// # Errors
    /// [`LoadError`] when it cannot be loaded itself.
    pub fn leads_to(&mut self, name: &str) -> Result<Vec<String>, LoadError> {
        let module = self.load(name)?;
        let (specifiers, importing): (Vec<String>, _) = match module.kind {
            Kind::Module => (specifiers_of(&module.code, "compiled.mjs"), Importing::Module),
            Kind::CommonJs => (read(&module.code).required.into_iter().collect(), Importing::CommonJs),
        };
        let mut out: Vec<String> = specifiers.iter().filter_map(|s| self.resolve(name, s, importing).ok()).collect();
        out.sort();
        out.dedup();
        Ok(out)
    }

    fn facade(&mut self, name: &str, address: Address<'_>) -> String {
        let mut names = BTreeSet::new();
        self.names_of(name, &mut names, &mut BTreeSet::new());
        let mut out = format!("import {};\nconst m = {COMMON}.require({});\n", Json::from(address(name, Form::Register)), Json::from(name));
        for (i, key) in names.iter().filter(|k| *k != "default" && *k != "__esModule").enumerate() {
            let _ = writeln!(out, "const e{i} = m?.[{0}]; export {{ e{i} as {0} }};", Json::from(key.as_str()));
        }
        out.push_str("export default m?.__esModule && 'default' in m ? m.default : m;\n");
        out
    }

    fn register(&self, name: &str, code: &str, address: Address<'_>) -> String {
        let head = WRAPPER.0.trim_start_matches("export default ");
        let mut out = format!("{COMMON}.define({}, {head}{code}{}, {{", Json::from(name), WRAPPER.1);
        let mut imports = BTreeSet::new();
        for specifier in read(code).required {
            // What cannot be resolved fails when it is required: many files try packages that may be missing.
            if let Ok(target) = self.resolve(name, &specifier, Importing::CommonJs) {
                let _ = write!(out, "{}: {}, ", Json::from(specifier), Json::from(target.as_str()));
                imports.insert(address(&target, Form::Register));
            }
        }
        out.push_str("});\n");
        for target in imports {
            let _ = writeln!(out, "import {};", Json::from(target));
        }
        out
    }

    /// The names that a CommonJS file, or an ES module that it takes over, exports.
    fn names_of(&mut self, name: &str, names: &mut BTreeSet<String>, seen: &mut BTreeSet<String>) {
        if !seen.insert(name.to_owned()) {
            return;
        }
        let Ok(module) = self.load(name) else { return };
        if name.ends_with(".json") {
            let keys = module.code.split_once('(').and_then(|(_, t)| t.rsplit_once(')')).and_then(|(t, _)| serde_json::from_str(t).ok());
            let text: String = keys.unwrap_or_default();
            if let Ok(Json::Object(map)) = serde_json::from_str(&text) {
                names.extend(map.keys().cloned());
            }
            return;
        }
        let found = if module.kind == Kind::CommonJs { read(&module.code) } else { exported(&module.code) };
        let importing = if module.kind == Kind::CommonJs { Importing::CommonJs } else { Importing::Module };
        names.extend(found.names);
        for specifier in found.taken_over {
            if let Ok(target) = self.resolve(name, &specifier, importing) {
                self.names_of(&target, names, seen);
            }
        }
    }
}

/// What a file's text tells of what it exports.
#[derive(Debug, Default)]
struct Found {
    /// Specifiers of `require("…")`.
    required: BTreeSet<String>,
    /// Names that are set on `exports`.
    names: BTreeSet<String>,
    /// Specifiers of files all of whose names it exports too.
    taken_over: BTreeSet<String>,
}

/// The exports of an ES module.
fn exported(code: &str) -> Found {
    let allocator = Allocator::default();
    let parsed = Parser::new(&allocator, code, SourceType::mjs()).parse();
    let record = &parsed.module_record;
    Found {
        names: record.exported_bindings.keys().map(ToString::to_string).collect(),
        taken_over: record.star_export_entries.iter().filter_map(|e| e.module_request.as_ref()).map(|r| r.name.to_string()).collect(),
        ..Found::default()
    }
}

/// The exports of a CommonJS file.
fn read(code: &str) -> Found {
    let allocator = Allocator::default();
    let parsed = Parser::new(&allocator, code, SourceType::cjs()).parse();
    let mut found = Found::default();
    found.visit_program(&parsed.program);
    found
}

/// `exports` or `module.exports`.
fn is_exports(expression: &Expression<'_>) -> bool {
    match expression {
        Expression::Identifier(id) => id.name == "exports",
        Expression::StaticMemberExpression(member) => {
            member.property.name == "exports" && matches!(&member.object, Expression::Identifier(id) if id.name == "module")
        }
        _ => false,
    }
}

/// `require("…")`, also within a helper's call as `__importStar(require("…"))`.
fn required<'a>(expression: &'a Expression<'_>) -> Option<&'a str> {
    let Expression::CallExpression(call) = expression else { return None };
    match (&call.callee, call.arguments.first()?) {
        (Expression::Identifier(id), Argument::StringLiteral(text)) if id.name == "require" => Some(text.value.as_str()),
        (_, argument) => required(argument.as_expression()?),
    }
}

impl Found {
    /// Keys of an object whose members become exports.
    fn keys(&mut self, object: &oxc::ast::ast::ObjectExpression<'_>) {
        for property in &object.properties {
            match property {
                ObjectPropertyKind::ObjectProperty(property) => self.names.extend(property.key.static_name().map(String::from)),
                ObjectPropertyKind::SpreadProperty(spread) => self.taken_over.extend(required(&spread.argument).map(String::from)),
            }
        }
    }
}

impl<'a> Visit<'a> for Found {
    fn visit_assignment_expression(&mut self, it: &AssignmentExpression<'a>) {
        match &it.left {
            AssignmentTarget::StaticMemberExpression(member) if is_exports(&member.object) => {
                self.names.insert(member.property.name.to_string());
            }
            AssignmentTarget::ComputedMemberExpression(member) if is_exports(&member.object) => {
                if let Expression::StringLiteral(key) = &member.expression {
                    self.names.insert(key.value.to_string());
                }
            }
            AssignmentTarget::StaticMemberExpression(member)
                if member.property.name == "exports" && matches!(&member.object, Expression::Identifier(id) if id.name == "module") =>
            {
                let mut value = &it.right;
                while let Expression::AssignmentExpression(inner) = value {
                    value = &inner.right;
                }
                match value {
                    Expression::ObjectExpression(object) => self.keys(object),
                    other => self.taken_over.extend(required(other).map(String::from)),
                }
            }
            _ => {}
        }
        walk::walk_assignment_expression(self, it);
    }

    fn visit_call_expression(&mut self, it: &CallExpression<'a>) {
        let argument = |i: usize| it.arguments.get(i).and_then(Argument::as_expression);
        let callee = match &it.callee {
            Expression::Identifier(id) => id.name.as_str(),
            Expression::StaticMemberExpression(member) => member.property.name.as_str(),
            _ => "",
        };
        match (callee, argument(0), argument(1)) {
            ("require", Some(Expression::StringLiteral(text)), _) => {
                self.required.insert(text.value.to_string());
            }
            ("defineProperty", Some(target), Some(Expression::StringLiteral(key))) if is_exports(target) => {
                self.names.insert(key.value.to_string());
            }
            // As compilers write it: a table of getters, or all that another file exports.
            ("__export" | "_export" | "defineProperties" | "assign" | "__exportAll", _, Some(Expression::ObjectExpression(object))) => {
                self.keys(object);
            }
            ("__exportStar" | "_exportStar" | "__reExport" | "_export_star" | "assign", Some(first), second) => {
                let named = [Some(first), second].into_iter().flatten().filter_map(required).map(String::from);
                self.taken_over.extend(named);
            }
            _ => {}
        }
        walk::walk_call_expression(self, it);
    }
}

/// What a module imports, as it is written, as far as its text tells. Its name tells the language.
pub fn specifiers_of(code: &str, name: &str) -> Vec<String> {
    let allocator = Allocator::default();
    let parsed = Parser::new(&allocator, code, SourceType::from_path(name).unwrap_or_default()).parse();
    let literal = |d: &oxc::syntax::module_record::DynamicImport| {
        let written = &code[d.module_request.start as usize..d.module_request.end as usize];
        Some(written.strip_prefix(['\'', '"', '`'])?.strip_suffix(['\'', '"', '`'])?.to_owned())
    };
    let fixed = parsed.module_record.requested_modules.keys().map(ToString::to_string);
    fixed.chain(parsed.module_record.dynamic_imports.iter().filter_map(literal)).collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    fn names(code: &str) -> Vec<String> {
        read(code).names.into_iter().collect()
    }

    #[test]
    fn names_are_read_as_compilers_write_them() {
        for (code, expected) in [
            ("exports.a = 1; module.exports.b = 2; exports['c'] = 3", vec!["a", "b", "c"]),
            ("(function () { exports.a = exports.b = void 0; })()", vec!["a", "b"]),
            ("module.exports = { a, b: 2, 'c': 3, ...rest }", vec!["a", "b", "c"]),
            ("0 && (module.exports = { a, b })", vec!["a", "b"]),
            ("Object.defineProperty(exports, 'a', { enumerable: true, get() {} })", vec!["a"]),
            ("__export(index_exports, { a: () => a, b: () => b })", vec!["a", "b"]),
            ("module.exports = function () {}; module.exports.a = 1", vec!["a"]),
            ("other.a = 1; exported.b = 2", vec![]),
        ] {
            assert_eq!(names(code), expected, "{code}");
        }
    }

    #[test]
    fn files_that_are_taken_over_are_found() {
        for code in [
            "module.exports = require('./a')",
            "__exportStar(require('./a'), exports)",
            "if (x) { module.exports = require('./a') } else {}",
            "module.exports = { ...require('./a') }",
            "module.exports = __toESM(require('./a'))",
        ] {
            let found = read(code);
            assert_eq!(found.taken_over.into_iter().collect::<Vec<_>>(), ["./a"], "{code}");
            assert!(found.required.contains("./a"), "{code}");
        }
    }
}
