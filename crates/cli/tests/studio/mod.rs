//! A project in a temporary folder, with the demo's framework packages, and the built program run in it.

#![allow(dead_code, reason = "each test file uses a part of it")]
#![allow(clippy::print_stderr, reason = "it says what was passed over")]

use std::path::{Path, PathBuf};
use std::process::{Command, Output};

use fidelon_demo::PACKAGES;

/// A project.
pub struct Studio {
    folder: tempfile::TempDir,
}

impl Studio {
    /// A project with Vue and React installed and nothing else.
    pub fn new() -> Self {
        let folder = tempfile::tempdir().expect("a temporary folder");
        let tar = zstd::decode_all(PACKAGES).expect("packed by xtask");
        tar::Archive::new(tar.as_slice()).unpack(folder.path()).expect("unpacks");
        Self { folder }.with("package.json", "{ \"name\": \"studio\", \"private\": true }")
    }

    /// A folder with nothing in it.
    pub fn empty() -> Self {
        Self { folder: tempfile::tempdir().expect("a temporary folder") }
    }

    /// Writes a file.
    pub fn with(self, path: &str, content: impl AsRef<[u8]>) -> Self {
        let file = self.path(path);
        std::fs::create_dir_all(file.parent().expect("in the folder")).expect("made");
        std::fs::write(file, content).expect("written");
        self
    }

    /// A path in the project.
    pub fn path(&self, path: &str) -> PathBuf {
        self.folder.path().join(path)
    }

    /// Runs the program in it, with a cache of its own.
    pub fn run(&self, args: &[&str]) -> Run {
        self.run_with(args, &[])
    }

    /// The same, in a folder below it.
    pub fn run_in(&self, folder: &str, args: &[&str]) -> Run {
        Run::from(&self.command(args).current_dir(self.path(folder)).output().expect("the program starts"))
    }

    /// The same, with other variables of the environment.
    pub fn run_with(&self, args: &[&str], variables: &[(&str, &str)]) -> Run {
        Run::from(&self.command(args).envs(variables.iter().copied()).output().expect("the program starts"))
    }

    /// The program in it, yet to be run.
    pub fn command(&self, args: &[&str]) -> Command {
        let mut command = Command::new(env!("CARGO_BIN_EXE_fidelon"));
        command.args(args).env("FIDELON_CACHE", self.path(".cache")).current_dir(self.folder.path());
        command
    }

    /// Runs git in it.
    pub fn git(&self, args: &[&str]) {
        let identity = ["-c", "user.name=potter", "-c", "user.email=potter@studio.example", "-c", "commit.gpgsign=false"];
        let run = Command::new("git").args(identity).args(args).current_dir(self.path(".")).output().expect("git is there");
        assert!(run.status.success(), "{args:?}: {}", String::from_utf8_lossy(&run.stderr));
    }

    /// The results of `check --json`.
    pub fn results(&self, paths: &[&str]) -> serde_json::Value {
        let run = self.run(&[&["check", "--json", "-"], paths].concat());
        serde_json::from_str(&run.out).unwrap_or_else(|e| panic!("{e}: {}{}", run.out, run.err))
    }
}

/// What came of a run.
#[derive(Debug)]
pub struct Run {
    pub code: i32,
    pub out: String,
    pub err: String,
}

impl From<&Output> for Run {
    fn from(output: &Output) -> Self {
        let text = |bytes: &[u8]| String::from_utf8_lossy(bytes).into_owned();
        Self { code: output.status.code().unwrap_or(-1), out: text(&output.stdout), err: text(&output.stderr) }
    }
}

/// A file of the demo kit.
pub fn kit(path: &str) -> String {
    std::fs::read_to_string(Path::new(env!("CARGO_MANIFEST_DIR")).join("../../demo/kiln-studio").join(path)).expect(path)
}

/// Says that something was not tried here.
pub fn passed_over(why: &str) {
    eprintln!("passed over: {why}");
}

/// The stages that can be tried here.
pub fn stages() -> Vec<&'static str> {
    if has_browser() { vec!["embedded", "browser"] } else { vec!["embedded"] }
}

/// Whether a browser can be driven here. Where it has to be, it is a fault that none can.
pub fn has_browser() -> bool {
    let there = std::env::var_os("PATH")
        .is_some_and(|p| std::env::split_paths(&p).any(|d| ["chromedriver", "geckodriver"].iter().any(|n| d.join(n).is_file())));
    if !there {
        assert!(std::env::var_os("FIDELON_REQUIRE_BROWSER").is_none_or(|v| v != "1"), "a browser is required, and none can be driven");
        passed_over("no browser can be driven here");
    }
    there
}
