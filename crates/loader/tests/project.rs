//! A project on disk: what its imports mean, how its files come in, what is kept of them.

use std::cell::RefCell;
use std::path::Path;
use std::rc::Rc;

use fidelon_loader::{Cache, Compilers, Importing, Kind, Loader, NoCompilers};

struct Project(tempfile::TempDir);

impl Project {
    fn new(files: &[(&str, &str)]) -> Self {
        let project = Self(tempfile::tempdir().expect("a temporary folder"));
        for (path, text) in files {
            project.write(path, text);
        }
        project
    }

    fn write(&self, path: &str, text: &str) {
        let file = self.0.path().join(path);
        std::fs::create_dir_all(file.parent().expect("in the folder")).expect("made");
        std::fs::write(file, text).expect("written");
    }

    fn path(&self, path: &str) -> String {
        self.root().join(path).to_string_lossy().into_owned()
    }

    fn root(&self) -> std::path::PathBuf {
        // The resolver follows links, as some systems have on the way to their temporary folder.
        self.0.path().canonicalize().expect("there")
    }

    fn loader(&self) -> Loader {
        Loader::new(Cache::none(), Box::new(NoCompilers))
    }
}

#[test]
fn imports_mean_what_a_bundler_for_browsers_takes_them_for() {
    let project = Project::new(&[
        (
            "tsconfig.json",
            r#"{ "compilerOptions": { "paths": { "@/*": ["./src/*"], "kit": ["./src/kit/index.ts"] } }, "include": ["src"] }"#,
        ),
        ("src/App.tsx", ""),
        ("src/pot.ts", ""),
        ("src/kit/index.ts", ""),
        ("src/Dial.vue", ""),
        ("src/shelf/index.tsx", ""),
        ("src/rates.json", "{}"),
        ("package.json", r##"{ "imports": { "#glaze": "./src/pot.ts" } }"##),
        (
            "node_modules/kilns/package.json",
            r#"{ "exports": { ".": { "node": "./server.js", "browser": { "import": "./browser.mjs", "require": "./browser.cjs" } }, "./extra": "./extra.js" } }"#,
        ),
        ("node_modules/kilns/browser.mjs", ""),
        ("node_modules/kilns/browser.cjs", ""),
        ("node_modules/kilns/server.js", ""),
        ("node_modules/kilns/extra.js", ""),
        ("node_modules/kilns/hidden.js", ""),
        ("node_modules/old/package.json", r#"{ "main": "main.js", "module": "module.js" }"#),
        ("node_modules/old/main.js", ""),
        ("node_modules/old/module.js", ""),
        ("node_modules/lean/package.json", r#"{ "main": "main.js", "browser": { "./disk.js": false } }"#),
        ("node_modules/lean/main.js", ""),
        ("node_modules/lean/disk.js", ""),
    ]);
    let loader = project.loader();
    let from = project.path("src/App.tsx");
    for (specifier, importing, wanted) in [
        ("./pot", Importing::Module, "src/pot.ts"),
        ("./pot.js", Importing::Module, "src/pot.ts"),
        ("./Dial.vue", Importing::Module, "src/Dial.vue"),
        ("./shelf", Importing::Module, "src/shelf/index.tsx"),
        ("./rates.json", Importing::Module, "src/rates.json"),
        ("@/pot", Importing::Module, "src/pot.ts"),
        ("kit", Importing::Module, "src/kit/index.ts"),
        ("#glaze", Importing::Module, "src/pot.ts"),
        ("kilns", Importing::Module, "node_modules/kilns/browser.mjs"),
        ("kilns", Importing::CommonJs, "node_modules/kilns/browser.cjs"),
        ("kilns/extra", Importing::Module, "node_modules/kilns/extra.js"),
        ("old", Importing::Module, "node_modules/old/module.js"),
        ("old", Importing::CommonJs, "node_modules/old/main.js"),
    ] {
        assert_eq!(loader.resolve(&from, specifier, importing), Ok(project.path(wanted)), "{specifier} by {importing:?}");
    }
    assert_eq!(loader.resolve(&project.path("node_modules/lean/main.js"), "./disk.js", Importing::Module), Ok("empty:".into()));
    for (specifier, part) in [
        ("./crock", "no such file"),
        ("glazes", "`npm install glazes`"),
        ("@pots/mug/deep", "`npm install @pots/mug`"),
        ("kilns/hidden", "does not export"),
        ("node:fs", "belongs to Node"),
    ] {
        let error = loader.resolve(&from, specifier, Importing::Module).expect_err(specifier);
        assert!(error.message.contains(part), "{specifier}: {}", error.message);
        assert_eq!(error.file, from, "{specifier}");
    }
}

#[test]
fn types_are_found_where_a_type_checker_finds_them() {
    let project = Project::new(&[
        ("A.vue", ""),
        ("node_modules/kilns/package.json", r#"{ "exports": { ".": { "types": "./dist/k.d.ts", "import": "./dist/k.js" } } }"#),
        ("node_modules/kilns/dist/k.d.ts", ""),
        ("node_modules/kilns/dist/k.js", ""),
        ("node_modules/old/package.json", r#"{ "main": "i.js", "types": "i.d.ts" }"#),
        ("node_modules/old/i.d.ts", ""),
        ("node_modules/bare/package.json", r#"{ "main": "i.js" }"#),
        ("node_modules/bare/i.js", ""),
        ("node_modules/@types/bare/package.json", r#"{ "types": "index.d.ts" }"#),
        ("node_modules/@types/bare/index.d.ts", ""),
        ("node_modules/@pots/mug/package.json", r#"{ "main": "i.js" }"#),
        ("node_modules/@pots/mug/i.js", ""),
        ("node_modules/@types/pots__mug/package.json", r#"{ "types": "index.d.ts" }"#),
        ("node_modules/@types/pots__mug/index.d.ts", ""),
    ]);
    let loader = project.loader();
    for (specifier, wanted) in [
        ("kilns", Some("node_modules/kilns/dist/k.d.ts")),
        ("old", Some("node_modules/old/i.d.ts")),
        ("bare", Some("node_modules/@types/bare/index.d.ts")),
        ("@pots/mug", Some("node_modules/@types/pots__mug/index.d.ts")),
        ("nowhere", None),
    ] {
        assert_eq!(loader.types(&project.path("A.vue"), specifier), wanted.map(|w| project.path(w)), "{specifier}");
    }
}

#[test]
fn files_come_in_as_what_they_hold() {
    let project = Project::new(&[
        ("a.ts", "export const unit: 'C' | 'F' = 'C'"),
        ("b.js", "module.exports = require('./a')"),
        ("c.js", "export default 1"),
        ("d.json", "{ \"bisque\": 120 }"),
        ("e.css", ".dial { color: teal }"),
        ("f.module.css", ".dial { color: teal } .dial:hover .hot-spot {}"),
        ("g.svg", "<svg/>"),
        ("h.jsx", "export const H = () => <p>x</p>"),
        ("i.ts", "export const mode = import.meta.env.MODE"),
    ]);
    let mut loader = project.loader();
    for (file, kind, has, lacks) in [
        ("a.ts", Kind::Module, "unit = \"C\"", "'F'"),
        ("b.js", Kind::CommonJs, "function (module, exports, require", "import "),
        ("c.js", Kind::Module, "export default 1", "function (module"),
        ("d.json", Kind::CommonJs, "bisque", "import "),
        ("e.css", Kind::Module, "__styles", "module.exports"),
        ("f.module.css", Kind::Module, "export { name1 as \"hot-spot\" }", "\"hover\""),
        ("g.svg", Kind::Module, "\"/g.svg\"", "<svg"),
        ("h.jsx", Kind::Module, "react/jsx-runtime", "<p>"),
        ("i.ts", Kind::Module, "__env.MODE", "import.meta"),
    ] {
        let module = loader.load(&project.path(file)).unwrap_or_else(|e| panic!("{file}: {e}"));
        assert_eq!(module.kind, kind, "{file}");
        let code = module.runnable();
        assert!(code.contains(has) && !code.contains(lacks), "{file}: {code}");
    }
}

/// A compiler that counts its calls and gives a component that reads a file of types.
struct Counting {
    calls: Rc<RefCell<usize>>,
    reads: String,
}

impl Compilers for Counting {
    fn compile(&mut self, compiler: &[String], _: &str, input: &str) -> Result<String, String> {
        assert!(compiler[0].ends_with("compiler-sfc.esm-browser.js"), "{compiler:?}");
        assert!(input.contains("A.vue"));
        *self.calls.borrow_mut() += 1;
        Ok(serde_json::json!({ "code": "export default { a: 1 as number }", "language": "ts", "map": null, "reads": [self.reads] })
            .to_string())
    }
}

#[test]
fn a_single_file_component_is_compiled_once_for_all_runs_until_something_it_read_changes() {
    let project = Project::new(&[
        ("A.vue", "<template><p/></template>"),
        ("types.ts", "export type A = 1"),
        ("node_modules/@vue/compiler-sfc/package.json", r#"{ "module": "dist/compiler-sfc.esm-browser.js" }"#),
        ("node_modules/@vue/compiler-sfc/dist/compiler-sfc.esm-browser.js", ""),
    ]);
    let calls = Rc::new(RefCell::new(0));
    let kept = tempfile::tempdir().expect("a temporary folder");
    let load = || {
        let compilers = Counting { calls: calls.clone(), reads: project.path("types.ts") };
        let mut loader = Loader::new(Cache::at(kept.path().into()), Box::new(compilers));
        loader.load(&project.path("A.vue")).expect("compiles").code.to_string()
    };
    let first = load();
    assert!(first.contains("a: 1") && !first.contains("as number"), "types are stripped from what the compiler gives: {first}");
    assert_eq!((load(), *calls.borrow()), (first.clone(), 1), "kept");
    project.write("types.ts", "export type A = 2");
    assert_eq!((load(), *calls.borrow()), (first.clone(), 2), "a type that it read changed");
    project.write("A.vue", "<template><b/></template>");
    load();
    assert_eq!(*calls.borrow(), 3, "its own text changed");
    project.write("A.vue", "<template><p/></template>");
    load();
    assert_eq!(*calls.borrow(), 3, "what was known once is known");
}

#[test]
fn runs_that_share_a_cache_do_not_harm_each_other() {
    let folder = tempfile::tempdir().expect("a temporary folder");
    let cache = Cache::at(folder.path().into());
    let content = |i: usize| vec![u8::try_from(i % 7).expect("small"); 20_000 + i % 7];
    std::thread::scope(|scope| {
        for worker in 0..4 {
            let cache = cache.clone();
            scope.spawn(move || {
                for i in 0..70 {
                    let key = Cache::key(&[&[u8::try_from((i + worker) % 7).expect("small")]]);
                    cache.put(&key, &content(i + worker));
                    let read = cache.get(&key).expect("whole at every moment");
                    assert_eq!(read, content(i + worker));
                }
            });
        }
    });
    let left = walk(folder.path()).into_iter().filter(|n| n.rsplit('/').next().is_some_and(|n| n.starts_with(".tmp"))).count();
    assert_eq!(left, 0, "no temporary file is left");
}

fn walk(folder: &Path) -> Vec<String> {
    let entries = std::fs::read_dir(folder).expect("a folder").flatten();
    entries.flat_map(|e| if e.path().is_dir() { walk(&e.path()) } else { vec![e.path().to_string_lossy().into_owned()] }).collect()
}

#[test]
fn a_cache_that_cannot_be_written_costs_nothing() {
    let project = Project::new(&[("a.ts", "export const a: number = 1"), ("plain", "a file, not a folder")]);
    let mut loader = Loader::new(Cache::at(project.root().join("plain")), Box::new(NoCompilers));
    assert!(loader.load(&project.path("a.ts")).expect("loads").code.contains("a = 1"));
}

#[test]
fn a_component_without_its_framework_says_what_to_install() {
    let project = Project::new(&[("A.vue", "<template><p/></template>")]);
    let error = project.loader().load(&project.path("A.vue")).expect_err("no vue");
    assert!(error.message.contains("`npm install vue`"), "{}", error.message);
}

#[test]
fn places_lead_back_to_the_source() {
    let project = Project::new(&[(
        "a.ts",
        "interface A {\n  b: number\n}\n\nexport function fire(a: A): never {\n  throw new Error(String(a.b))\n}\n",
    )]);
    let mut loader = project.loader();
    let name = project.path("a.ts");
    let code = loader.load(&name).expect("loads").code;
    let at = code.find("new Error").expect("kept");
    let (line, column) = fidelon_source::place_of(&code, at);
    assert_eq!(loader.original(&name, line, column), Some((6, 9)));
}
