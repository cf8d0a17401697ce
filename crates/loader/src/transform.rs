//! From a source to a module that can run: by the file's kind, through the framework's compiler where there is one.

use std::borrow::Cow;
use std::path::{Path, PathBuf};

use fidelon_source::{DiskFiles, Files};

use crate::compile::{self, Compiler};
use crate::error::LoadError;
use crate::loader::{Entry, Kind, Loader, Reads, hash_of, hashed, tidy};
use crate::resolve::Importing;
use crate::{angular, asset, html, jsx, script, styles};

impl Loader {
    /// What an import asks for by its query: the text of a file, or the rules of a stylesheet, which the page does not get.
    pub(crate) fn transform_as(&mut self, query: Option<&str>, path: &str, extension: &str, source: &str) -> Result<Entry, LoadError> {
        let is_style = matches!(extension, "css" | "pcss") || styles::is_sass(extension);
        match query {
            Some(query) if query.starts_with("script-") && extension == "html" => {
                let text = query["script-".len()..].parse().ok().and_then(|number| html::inline_script(source, number)).unwrap_or_default();
                Ok(Entry { kind: Kind::Module, code: Some(with_meta(&text).into_owned()), maps: Vec::new(), reads: Vec::new() })
            }
            Some("raw") => Ok(Entry { kind: Kind::Module, code: Some(asset::text(source)), maps: Vec::new(), reads: Vec::new() }),
            Some("inline") if is_style => {
                let (rules, reads) = self.rules(path, extension, source)?;
                Ok(Entry { kind: Kind::Module, code: Some(asset::text(&rules)), maps: Vec::new(), reads })
            }
            _ => self.transform(path, extension, source),
        }
    }

    /// The rules of a stylesheet as CSS.
    fn rules<'s>(&self, path: &str, extension: &str, source: &'s str) -> Result<(Cow<'s, str>, Reads), LoadError> {
        if !styles::is_sass(extension) {
            return Ok((source.into(), Vec::new()));
        }
        let workspace = self.workspaces.of(path).filter(|workspace| !workspace.sass_folders.is_empty());
        let folders = workspace.as_ref().map_or(&[][..], |workspace| &workspace.sass_folders);
        let (css, mut read) = styles::sass(path, source, extension, (&self.aliases, folders), &|file| self.is_within(file))?;
        read.extend(workspace.iter().filter_map(|w| Some(w.file.as_ref()?.to_string_lossy().into_owned())));
        Ok((css.into(), hashed(read)))
    }

    /// A stylesheet that is imported for the page, or by the names of its classes.
    fn sheet(&mut self, path: &str, extension: &str, source: &str) -> Result<Entry, LoadError> {
        let (rules, mut reads) = self.rules(path, extension, source)?;
        let code = if path.contains(".module.") {
            let mut composed = Vec::new();
            let (rules, names) = self.css_module(path, &rules, &mut composed, 0)?;
            reads.extend(hashed(composed.iter().map(|(_, file)| file.clone()).collect()));
            // The rules that names are composed of come before.
            let own = composed.iter().filter(|(specifier, _)| !specifier.is_empty());
            let imports: String = own.map(|(specifier, _)| format!("import {};\n", serde_json::Value::from(specifier.as_str()))).collect();
            imports + &asset::css_module(path, &rules, &names)
        } else {
            asset::css(path, &rules)
        };
        Ok(Entry { kind: Kind::Module, code: Some(code), maps: Vec::new(), reads })
    }

    /// A CSS module's rules and names. `composed` takes the modules that it names, by specifier, and those that they name in turn, by none.
    fn css_module(
        &self,
        path: &str,
        rules: &str,
        composed: &mut Vec<(String, String)>,
        depth: usize,
    ) -> Result<(String, Names), LoadError> {
        let mut other = |specifier: &str| {
            let file = self.resolve(path, specifier, Importing::Module).ok().filter(|_| depth < 8)?;
            let source = DiskFiles.read(Path::new(&file)).ok()?;
            composed.push((if depth == 0 { specifier.to_owned() } else { String::new() }, file.clone()));
            let extension = file.rsplit('.').next().unwrap_or_default().to_owned();
            let (rules, more) = self.rules(&file, &extension, &source).ok()?;
            composed.extend(more.into_iter().map(|(file, _)| (String::new(), file)));
            Some(self.css_module(&file, &rules, composed, depth + 1).ok()?.1)
        };
        styles::module(path, rules, &mut other)
    }

    pub(crate) fn transform(&mut self, path: &str, extension: &str, source: &str) -> Result<Entry, LoadError> {
        let plain = |kind, code| Entry { kind, code: Some(code), maps: Vec::new(), reads: Vec::new() };
        match extension {
            "json" => {
                serde_json::from_str::<serde::de::IgnoredAny>(source).map_err(|e| {
                    LoadError::at(
                        path,
                        u32::try_from(e.line()).unwrap_or(1),
                        u32::try_from(e.column()).unwrap_or(1),
                        format!("this is not JSON: {e}"),
                    )
                })?;
                Ok(plain(Kind::CommonJs, asset::json(source)))
            }
            "css" | "pcss" | "scss" | "sass" => self.sheet(path, extension, source),
            // No crate compiles these: the page goes without them.
            "less" | "styl" => Ok(plain(Kind::Module, asset::text(""))),
            "vue" => {
                let id = &self.scope_id(path, source);
                let mut reads = Vec::new();
                let plain = styles::in_blocks(path, source, &self.aliases, &|file| self.is_within(file), &mut reads)?;
                let mut entry = self.compiled(&compile::VUE, path, &serde_json::json!({ "filename": path, "id": id, "source": plain }))?;
                entry.reads.extend(hashed(reads));
                Ok(entry)
            }
            "html" | "htm" => {
                let mut reads = Vec::new();
                let mut read = |file: &Path| {
                    let name = file.to_string_lossy().into_owned();
                    if !self.is_within(&name) {
                        return Err("it lies outside the project".to_owned());
                    }
                    reads.extend(hashed(vec![name]));
                    DiskFiles.read(file).map_err(|e| e.to_string())
                };
                let code = html::module(path, source, &mut read).map_err(|(at, message)| {
                    let (line, column) = fidelon_source::place_of(source, at);
                    LoadError::at(path, line, column, message)
                })?;
                Ok(Entry { reads, ..plain(Kind::Module, code) })
            }
            "svelte" => {
                let mut reads = Vec::new();
                let plain = styles::in_blocks(path, source, &self.aliases, &|file| self.is_within(file), &mut reads)?;
                let mut entry = self.compiled(&compile::SVELTE, path, &compile::svelte_input(path, plain))?;
                entry.reads.extend(hashed(reads));
                Ok(entry)
            }
            "js" | "ts" if path.rsplit('/').next().is_some_and(|name| name.contains(".svelte.")) => {
                // Runes are no TypeScript: the types go first.
                let script = script::transform(path, source, &script::Wanted::default())?;
                let plain = script.code.as_deref().unwrap_or(source);
                let mut entry = self.compiled(&compile::SVELTE, path, &compile::svelte_input(path, plain))?;
                entry.maps.splice(0..0, script.map);
                Ok(entry)
            }
            _ => {
                let may_have_tags = ["js", "mjs"].contains(&extension) && !path.contains("/node_modules/") && source.contains("</");
                let has_tags = ["jsx", "tsx"].contains(&extension) || may_have_tags;
                let import_source = has_tags.then(|| jsx::import_source(Path::new(path), source, &self.resolvers));
                if import_source.as_deref() == Some("solid-js") && (!may_have_tags || source.contains("solid-js")) {
                    let input = serde_json::json!({ "filename": path, "source": source, "typed": extension == "tsx" });
                    return self.compiled(&compile::SOLID, path, &input);
                }
                let mut reads = Vec::new();
                let mut text = with_meta(source);
                // Angular's classes say by themselves what their constructors ask for.
                let is_angular = angular::declares(source) && !path.contains("/node_modules/");
                if is_angular {
                    text = self.prepared(path, text, &mut reads)?;
                }
                let decorated = source.contains("\n@") || source.contains(" @") || source.starts_with('@');
                let metadata = decorated && !is_angular && self.resolvers.emits_metadata(Path::new(path));
                let script = script::transform(path, &text, &script::Wanted { import_source, metadata, ..script::Wanted::default() })?;
                let kind = if script.common { Kind::CommonJs } else { Kind::Module };
                let code = script.code.or_else(|| matches!(text, Cow::Owned(_)).then(|| text.into_owned()));
                Ok(Entry { kind, code, maps: script.map.into_iter().collect(), reads })
            }
        }
    }

    /// A file of Angular's classes with its templates and styles written in.
    fn prepared<'s>(&mut self, path: &str, source: Cow<'s, str>, reads: &mut Vec<(String, String)>) -> Result<Cow<'s, str>, LoadError> {
        let mut read = |written: &str| {
            let file = Path::new(path).parent().unwrap_or(Path::new("/")).join(written);
            let name = tidy(&file).to_string_lossy().into_owned();
            if !self.is_within(&name) {
                return Err(format!("`{written}`: it lies outside the project"));
            }
            let text = self.text(&name).map_err(|e| format!("`{written}`: {e}"))?;
            reads.extend(hash_of(&name).map(|hash| (name.clone(), hash)));
            let extension = name.rsplit('.').next().unwrap_or_default().to_owned();
            let (rules, read) = self.rules(&name, &extension, &text).map_err(|e| e.to_line())?;
            reads.extend(read);
            Ok(rules.into_owned())
        };
        match angular::prepare(path, &source, &mut read) {
            Ok(None) => Ok(source),
            Ok(Some(prepared)) => Ok(prepared.code.into()),
            Err((at, message)) => {
                let (line, column) = fidelon_source::place_of(&source, at);
                Err(LoadError::at(path, line, column, message))
            }
        }
    }

    pub(crate) fn compiled(&mut self, compiler: &Compiler, path: &str, input: &serde_json::Value) -> Result<Entry, LoadError> {
        let modules = compiler.find(path, &self.resolvers)?;
        let output = self.compilers.compile(&modules, compiler.glue, &input.to_string()).map_err(|e| LoadError::of_file(path, e))?;
        let output: compile::Output =
            serde_json::from_str(&output).map_err(|e| LoadError::of_file(path, format!("the compiler gave no answer: {e}")))?;
        if let Some(fault) = output.fault {
            return Err(fault.into_error(path));
        }
        let wanted = script::Wanted { language: Some(output.language.clone()), ..script::Wanted::default() };
        let script = script::transform(path, &with_meta(&output.code), &wanted)?;
        // Another version of the compiler gives another text.
        let versions = modules.iter().filter_map(|module| manifest_of(module));
        let reads = output.reads.into_iter().chain(versions).filter_map(|file| hash_of(&file).map(|hash| (file, hash))).collect();
        let maps = output.map.into_iter().chain(script.map).collect();
        Ok(Entry { kind: Kind::Module, code: Some(script.code.unwrap_or(output.code)), maps, reads })
    }
}

/// The `package.json` of the package that a file belongs to.
fn manifest_of(file: &str) -> Option<String> {
    let found = Path::new(file).ancestors().skip(1).map(|folder| folder.join("package.json"));
    let named = |path: &PathBuf| DiskFiles.read(path).is_ok_and(|text| text.contains("\"version\""));
    found.into_iter().find(named).map(|p| p.to_string_lossy().into_owned())
}

/// What each name of a CSS module is exported as.
type Names = serde_json::Map<String, serde_json::Value>;

/// `import.meta.env`, which bundlers give, is the window's environment here.
fn with_meta(source: &str) -> Cow<'_, str> {
    if source.contains("import.meta.env") { source.replace("import.meta.env", "globalThis.__env").into() } else { source.into() }
}
