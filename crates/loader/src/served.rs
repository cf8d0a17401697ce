//! What a server on this machine renders: its pages, its scripts, and the requests of its pages, which really go there.

use std::time::Duration;

use base64::Engine as _;
use serde::{Deserialize, Serialize};
use ureq::http::Request;

/// How long a server may take for an answer.
const PATIENCE: Duration = Duration::from_secs(10);
/// The most that an answer may hold.
const MOST: u64 = 64 << 20;

/// True for an address of this very machine: no other is ever asked.
pub fn is_loopback(address: &str) -> bool {
    let Some(host) = origin(address).and_then(|o| o.strip_prefix("http://")) else { return false };
    let name = match host.rsplit_once(':') {
        Some((name, port)) if port.chars().all(|c| c.is_ascii_digit()) => name,
        _ => host,
    };
    ["127.0.0.1", "localhost", "[::1]"].contains(&name)
}

/// `http://127.0.0.1:4000` of an address.
pub fn origin(address: &str) -> Option<&str> {
    let rest = address.strip_prefix("http://")?;
    let end = rest.find(['/', '?', '#']).unwrap_or(rest.len());
    Some(&address[.."http://".len() + end])
}

/// The address that a specifier means in a module or page of a server; none for the name of a package.
pub fn joined(from: &str, specifier: &str) -> Option<String> {
    let origin = origin(from)?;
    if specifier.starts_with("http://") {
        return Some(specifier.to_owned());
    }
    if specifier.starts_with('/') {
        return Some(format!("{origin}{specifier}"));
    }
    if !specifier.starts_with('.') {
        return None;
    }
    let path = from[origin.len()..].split(['?', '#']).next().unwrap_or_default();
    let mut parts: Vec<&str> = path.split('/').collect();
    parts.pop();
    for part in specifier.split('/') {
        match part {
            "." | "" => {}
            ".." => drop(parts.pop()),
            part => parts.push(part),
        }
    }
    Some(format!("{origin}/{}", parts.join("/").trim_start_matches('/')))
}

/// A request of a page.
#[derive(Debug, Deserialize)]
pub struct Sent {
    method: String,
    /// A path, or a whole address.
    url: String,
    #[serde(default)]
    headers: Vec<(String, String)>,
    body: Option<String>,
}

/// What came back.
#[derive(Debug, Serialize)]
pub struct Reply {
    status: u16,
    headers: Vec<(String, String)>,
    /// The body as text, which what is none is only nearly.
    text: String,
    /// The body of what is no text, in base64.
    #[serde(skip_serializing_if = "Option::is_none")]
    bytes: Option<String>,
}

/// Sends a request to the server of this origin.
///
/// # Errors
/// Why there is no answer.
pub fn send(origin: &str, sent: &Sent) -> Result<Reply, String> {
    let address = if sent.url.starts_with('/') { format!("{origin}{}", sent.url) } else { sent.url.clone() };
    if self::origin(&address) != Some(origin) {
        return Err(format!("{address} is not of {origin}: nothing else is reached"));
    }
    let mut request = Request::builder().method(sent.method.as_str()).uri(&address);
    for (name, value) in &sent.headers {
        request = request.header(name, value);
    }
    let told = |e: &dyn std::fmt::Display| format!("{origin} gave no answer: {e}");
    let agent: ureq::Agent =
        ureq::Agent::config_builder().timeout_global(Some(PATIENCE)).http_status_as_error(false).proxy(None).build().into();
    let answer = match &sent.body {
        Some(body) => agent.run(request.body(body.clone()).map_err(|e| told(&e))?),
        None => agent.run(request.body(()).map_err(|e| told(&e))?),
    };
    let mut answer = answer.map_err(|e| told(&e))?;
    let headers = answer.headers().iter().filter_map(|(name, value)| Some((name.to_string(), value.to_str().ok()?.to_owned()))).collect();
    let status = answer.status().as_u16();
    let body = answer.body_mut().with_config().limit(MOST).read_to_vec().map_err(|e| told(&e))?;
    let (text, bytes) = match String::from_utf8(body) {
        // What is text to the letter may be none all the same.
        Ok(text) if !text.contains('\0') => (text, None),
        other => {
            let body = other.map_or_else(std::string::FromUtf8Error::into_bytes, String::into_bytes);
            (String::from_utf8_lossy(&body).into_owned(), Some(base64::engine::general_purpose::STANDARD.encode(&body)))
        }
    };
    Ok(Reply { status, headers, text, bytes })
}

/// The text of a module of a server.
///
/// # Errors
/// Why it cannot be had.
pub fn text(address: &str) -> Result<String, String> {
    let origin = origin(address).filter(|_| is_loopback(address)).ok_or_else(|| format!("{address} is not of this machine"))?;
    let sent = Sent { method: "GET".into(), url: address.into(), headers: Vec::new(), body: None };
    match send(origin, &sent)? {
        Reply { status: 200..=299, text, .. } => Ok(text),
        Reply { status, .. } => Err(format!("{address} answered {status}")),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn only_this_machine_is_reached() {
        for (address, is) in [
            ("http://127.0.0.1:4000/dial", true),
            ("http://localhost/dial", true),
            ("http://[::1]:80/", true),
            ("http://127.0.0.1.example:80/", false),
            ("http://kiln.example/127.0.0.1", false),
            ("https://127.0.0.1/", false),
        ] {
            assert_eq!(is_loopback(address), is, "{address}");
        }
        let sent = Sent { method: "GET".into(), url: "http://127.0.0.1:2/".into(), headers: Vec::new(), body: None };
        assert!(send("http://127.0.0.1:1", &sent).expect_err("another origin").contains("nothing else is reached"));
    }

    #[test]
    fn specifiers_of_a_page() {
        let from = "http://localhost:4000/islands/dial?unit=F";
        for (specifier, means) in [
            ("./dial.js", Some("http://localhost:4000/islands/dial.js")),
            ("../a.js", Some("http://localhost:4000/a.js")),
            ("/a/b.js", Some("http://localhost:4000/a/b.js")),
            ("vue", None),
        ] {
            assert_eq!(joined(from, specifier).as_deref(), means, "{specifier}");
        }
    }
}
