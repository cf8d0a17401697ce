//! The demo's stand-in for a server: pages of the pottery studio whose parts it renders itself. It listens on loopback alone and keeps
//! nothing.

use std::io::{BufRead as _, BufReader, Read as _, Write as _};
use std::net::{Ipv4Addr, TcpListener, TcpStream};

use anyhow::Context as _;

use crate::setting;

/// Serves until the program is ended; says where on standard output.
pub fn serve(port: u16) -> anyhow::Result<i32> {
    let listener = TcpListener::bind((Ipv4Addr::LOCALHOST, port)).with_context(|| format!("port {port} is not available"))?;
    let port = listener.local_addr()?.port();
    setting::print(&format!(
        "the studio is at http://127.0.0.1:{port}/pieces, http://127.0.0.1:{port}/glaze and http://127.0.0.1:{port}/dial#kiln-dial\n"
    ));
    for stream in listener.incoming().flatten() {
        // One page asks for little at a time; who says nothing is not waited for.
        let _ = stream.set_read_timeout(Some(std::time::Duration::from_secs(5)));
        let _ = answer(&stream);
    }
    Ok(crate::exit::HOLDS)
}

/// The most that is read of a request's body.
const MOST: usize = 1 << 16;

fn answer(stream: &TcpStream) -> std::io::Result<()> {
    let mut reader = BufReader::new(stream);
    let mut line = String::new();
    reader.read_line(&mut line)?;
    let mut words = line.split_whitespace();
    let (method, target) = (words.next().unwrap_or_default().to_owned(), words.next().unwrap_or("/").to_owned());
    let mut length = 0;
    loop {
        let mut header = String::new();
        if reader.read_line(&mut header)? == 0 || header.trim().is_empty() {
            break;
        }
        if let Some((name, value)) = header.split_once(':')
            && name.eq_ignore_ascii_case("content-length")
        {
            length = value.trim().parse().unwrap_or(0);
        }
    }
    let mut body = vec![0; usize::min(length, MOST)];
    reader.read_exact(&mut body)?;
    let (status, kind, content) = reply(&method, &target, &String::from_utf8_lossy(&body));
    let kind = if kind.starts_with("text/") { format!("{kind}; charset=utf-8") } else { kind.to_owned() };
    let mut stream = stream;
    write!(stream, "HTTP/1.1 {status}\r\ncontent-type: {kind}\r\ncontent-length: {}\r\nconnection: close\r\n\r\n", content.len())?;
    stream.write_all(&content)
}

type Reply = (&'static str, &'static str, Vec<u8>);

fn reply(method: &str, target: &str, body: &str) -> Reply {
    let (path, query) = target.split_once('?').unwrap_or((target, ""));
    let parameter = |name: &str| query.split('&').filter_map(|p| p.split_once('=')).find(|(n, _)| *n == name).map(|(_, v)| decoded(v));
    match (method, path) {
        ("GET", "/pieces") => ("200 OK", "text/html", pieces(&parameter("shelf").unwrap_or_else(|| "Drying".into())).into()),
        ("GET", "/glaze") => ("200 OK", "text/html", GLAZE.into()),
        ("GET", "/islands.js") => ("200 OK", "text/javascript", ISLANDS.into()),
        ("POST", "/api/pieces") => ("201 Created", "application/json", body.into()),
        ("GET", "/api/glazes/7") => ("200 OK", "application/json", r#"{"name":"Celadon","cone":10}"#.into()),
        ("GET", "/dial") => {
            ("200 OK", "text/html", "<!doctype html><html><body><script src=\"/_framework/kiln.js\"></script></body></html>".into())
        }
        ("GET", "/_framework/kiln.js") => ("200 OK", "text/javascript", KILN.into()),
        ("GET", "/_framework/kiln.wasm") => ("200 OK", "application/wasm", RAISED.into()),
        _ => ("404 Not Found", "text/plain", "there is nothing here".into()),
    }
}

/// `a%20b+c` as it was before.
fn decoded(text: &str) -> String {
    let mut out = Vec::new();
    let mut bytes = text.bytes();
    while let Some(byte) = bytes.next() {
        match byte {
            b'+' => out.push(b' '),
            b'%' => {
                let hex: Vec<u8> = bytes.by_ref().take(2).collect();
                out.extend(std::str::from_utf8(&hex).ok().and_then(|h| u8::from_str_radix(h, 16).ok()));
            }
            other => out.push(other),
        }
    }
    String::from_utf8_lossy(&out).into_owned()
}

fn escaped(text: &str) -> String {
    text.replace('&', "&amp;").replace('<', "&lt;").replace('"', "&quot;")
}

/// Two islands that know nothing of each other but an event.
fn pieces(shelf: &str) -> String {
    format!(
        "<!doctype html><html><body><main>
<form class=\"piece-form\"><label>Piece <input name=\"piece\"></label><button>Add</button></form>
<section class=\"piece-ledger\" aria-label=\"{0}\"><h2>{0}</h2><ul></ul><p class=\"count\">0 pieces</p></section>
</main><script type=\"module\">import {{ form, ledger }} from '/islands.js'
form(document.querySelector('.piece-form'))
ledger(document.querySelector('.piece-ledger'))
</script></body></html>",
        escaped(shelf)
    )
}

const ISLANDS: &str = "export const form = (form) => form.addEventListener('submit', async (event) => {
  event.preventDefault()
  const piece = form.elements.piece.value.trim()
  if (!piece) return
  const answer = await fetch('/api/pieces', { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify({ piece }) })
  form.reset()
  form.dispatchEvent(new CustomEvent('piece-added', { bubbles: true, detail: await answer.json() }))
})
export const ledger = (section) => document.addEventListener('piece-added', ({ detail }) => {
  section.querySelector('ul').append(Object.assign(document.createElement('li'), { textContent: detail.piece }))
  section.querySelector('.count').textContent = `${section.querySelectorAll('li').length} pieces`
})
";

/// Asks twice for what one answer holds.
const GLAZE: &str = "<!doctype html><html><body><article><h2></h2><p class=\"cone\"></p></article><script>
const show = async () => {
  const name = (await (await fetch('/api/glazes/7')).json()).name
  const cone = (await (await fetch('/api/glazes/7')).json()).cone
  document.querySelector('h2').textContent = name
  document.querySelector('.cone').textContent = `cone ${cone}`
}
show()
</script></body></html>";

/// Stands in for an application of .NET: once its WebAssembly is there it has registered a component twice, as a custom element and as one
/// that is put into an element of the page.
const KILN: &str = "WebAssembly.instantiateStreaming(fetch('/_framework/kiln.wasm')).then(({ instance }) => {
  const raised = (target) => instance.exports.raised(target, 10)
  class KilnDial extends HTMLElement {
    #target = 0
    connectedCallback() {
      this.innerHTML = '<output></output><button type=\"button\">Raise</button>'
      this.querySelector('button').onclick = () => {
        this.target = raised(this.#target)
        this.dispatchEvent(new CustomEvent('target-change', { detail: this.#target }))
      }
      this.target = this.#target
    }
    get target() { return this.#target }
    set target(target) {
      this.#target = Number(target)
      const output = this.querySelector('output')
      if (output) output.textContent = `${this.#target} °C`
    }
  }
  customElements.define('kiln-dial', KilnDial)
  globalThis.Blazor = { rootComponents: { async add(element, identifier, parameters) {
    if (identifier !== 'kiln-sign') throw new Error(`There is no component with the identifier ${identifier}`)
    const show = () => { element.innerHTML = `<button type=\"button\">${parameters.kiln ?? 'Kiln'}</button>`; element.firstChild.onclick = () => parameters.pressed?.(raised(parameters.target ?? 0)) }
    show()
    return { async setParameters(next) { parameters = { ...parameters, ...next }; show() }, dispose() { element.replaceChildren() } }
  } } }
})
";

/// A module of WebAssembly with one function, `raised`: the sum of two whole numbers.
const RAISED: [u8; 44] = [
    0, b'a', b's', b'm', 1, 0, 0, 0, 1, 7, 1, 0x60, 2, 0x7f, 0x7f, 1, 0x7f, 3, 2, 1, 0, 7, 10, 1, 6, b'r', b'a', b'i', b's', b'e', b'd', 0,
    0, 10, 9, 1, 7, 0, 0x20, 0, 0x20, 1, 0x6a, 0x0b,
];
