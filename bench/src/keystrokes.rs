//! From a keystroke to what an editor shows of it: the protocol spoken to the program, as an editor does.

use std::io::{BufReader, Write as _};
use std::path::Path;
use std::process::{Command, Stdio};
use std::time::{Duration, Instant};

use anyhow::{Context as _, Result, ensure};
use serde_json::{Value as Json, json};

/// A client with one file open.
struct Client {
    child: std::process::Child,
    from: BufReader<std::process::ChildStdout>,
    uri: String,
    version: i32,
}

/// Types a blank into each of these files of a demo again and again, and prints the times to the first and to the whole verdict.
pub fn figures(program: &Path, folder: &Path, files: &[String], rounds: usize) -> Result<()> {
    println!("file                          first verdict   whole verdict   (medians of {rounds}, milliseconds)");
    for file in files {
        let (mut first, mut whole) = (Vec::new(), Vec::new());
        let mut client = Client::open(program, folder, file)?;
        let text = std::fs::read_to_string(folder.join(file))?;
        // The first look at a file compiles it and its framework.
        client.judged()?;
        for round in 0..rounds {
            let began = Instant::now();
            client.change(&format!("{text}{}", "\n".repeat(round + 1)))?;
            let (a, b) = client.judged()?;
            first.push(a.duration_since(began));
            whole.push(b.duration_since(began));
        }
        let median = |times: &mut Vec<Duration>| {
            times.sort();
            times.get(times.len() / 2).map(Duration::as_millis).context("no round")
        };
        println!("{file:28}  {:13}   {:13}", median(&mut first)?, median(&mut whole)?);
        client.child.kill()?;
        client.child.wait()?;
    }
    Ok(())
}

impl Client {
    fn open(program: &Path, folder: &Path, file: &str) -> Result<Self> {
        let folder = folder.canonicalize()?;
        let mut child = Command::new(program).arg("editor").current_dir(&folder).stdin(Stdio::piped()).stdout(Stdio::piped()).spawn()?;
        let from = BufReader::new(child.stdout.take().context("it has an output")?);
        let uri = format!("file://{}", folder.join(file).display());
        let text = std::fs::read_to_string(folder.join(file)).with_context(|| file.to_owned())?;
        let mut client = Self { child, from, uri, version: 1 };
        let folders = json!([{ "uri": format!("file://{}", folder.display()), "name": "demo" }]);
        client.send(json!({ "id": 1, "method": "initialize", "params": {
            "processId": null, "rootUri": null, "workspaceFolders": folders,
            "capabilities": { "workspace": { "codeLens": { "refreshSupport": true } } }
        } }))?;
        while client.read()?["id"] != 1 {}
        client.send(json!({ "method": "initialized", "params": {} }))?;
        let document = json!({ "uri": client.uri, "languageId": "any", "version": 1, "text": text });
        client.send(json!({ "method": "textDocument/didOpen", "params": { "textDocument": document } }))?;
        Ok(client)
    }

    fn change(&mut self, text: &str) -> Result<()> {
        self.version += 1;
        let document = json!({ "uri": self.uri, "version": self.version });
        self.send(
            json!({ "method": "textDocument/didChange", "params": { "textDocument": document, "contentChanges": [{ "text": text }] } }),
        )
    }

    /// When the first verdict on the text as it is now came, and when the whole one.
    fn judged(&mut self) -> Result<(Instant, Instant)> {
        let mut first = None;
        loop {
            let message = self.read()?;
            let of_this = message["method"] == "textDocument/publishDiagnostics" && message["params"]["version"] == self.version;
            if of_this && first.is_none() {
                first = Some(Instant::now());
            }
            // Lenses are asked for anew when all is known.
            if message["method"] == "workspace/codeLens/refresh" {
                let whole = Instant::now();
                self.send(json!({ "id": message["id"], "result": null }))?;
                if let Some(first) = first {
                    return Ok((first, whole));
                }
            }
        }
    }

    fn send(&mut self, message: Json) -> Result<()> {
        let mut message = message;
        message["jsonrpc"] = "2.0".into();
        let text = message.to_string();
        let to = self.child.stdin.as_mut().context("it has an input")?;
        write!(to, "Content-Length: {}\r\n\r\n{text}", text.len())?;
        Ok(to.flush()?)
    }

    fn read(&mut self) -> Result<Json> {
        use std::io::{BufRead as _, Read as _};
        let mut length = 0;
        loop {
            let mut line = String::new();
            ensure!(self.from.read_line(&mut line)? > 0, "the program has ended");
            match line.trim().split_once(": ") {
                Some(("Content-Length", number)) => length = number.parse()?,
                _ if line.trim().is_empty() => break,
                _ => {}
            }
        }
        let mut bytes = vec![0; length];
        self.from.read_exact(&mut bytes)?;
        Ok(serde_json::from_slice(&bytes)?)
    }
}
