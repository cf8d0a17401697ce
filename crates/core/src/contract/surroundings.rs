//! What is around the component: `clock` and `network`.

use indexmap::IndexMap;
use serde_json::Value as Json;

use crate::contract::fault::Fault;
use crate::contract::read::keys_of;
use crate::contract::steps::duration;
use crate::contract::yaml::{Data, Node};
use crate::stage::{Canned, Environment, FeedMessage, Reply};

/// Reads `clock` and `network` of a contract.
pub(super) fn surroundings(root: &Node, faults: &mut Vec<Fault>) -> Environment {
    Environment { clock: clock(root, faults), network: root.get("network").map(|n| network(n, faults)) }
}

const METHODS: [&str; 8] = ["GET", "POST", "PUT", "PATCH", "DELETE", "HEAD", WS, EVENTS];
/// A socket, and a source of events: what is canned of them are messages.
const WS: &str = "WS";
const EVENTS: &str = "EVENTS";

fn network(node: &Node, faults: &mut Vec<Fault>) -> Vec<Canned> {
    let mut out = Vec::new();
    for item in node.one_or_many() {
        keys_of(item, "key of a canned reply", &["on", "reply", "messages", "fail", "after"], faults);
        let Some(on) = item.get("on") else {
            faults.push(Fault::new(item.span, "`on` is missing: which request is answered?").help("write `on: GET /api/kilns/*`"));
            continue;
        };
        let Some((method, path)) = request(on, faults) else { continue };
        let plain = Reply { status: 200, headers: IndexMap::new(), text: String::new(), fail: false, after: 0 };
        let is_connection = [WS, EVENTS].contains(&method.as_str());
        let mut messages = Vec::new();
        let mut replies = match (item.get("reply"), item.get("fail")) {
            (None, None) if is_connection && item.get("messages").is_some() => {
                messages = item.get("messages").map_or(&[][..], Node::one_or_many).iter().map(|n| message(n, &method, faults)).collect();
                vec![plain]
            }
            (Some(node), None) if is_connection => {
                faults.push(Fault::new(node.span, "a connection is not answered by a reply").help("write `messages: [{ json: … }]`"));
                continue;
            }
            (Some(node), None) => node.one_or_many().iter().map(|n| filled(plain.clone(), n, faults)).collect(),
            (None, Some(fail)) if fail.to_json() == true => vec![Reply { fail: true, ..plain }],
            _ if is_connection => {
                faults.push(Fault::new(item.span, "a connection has either `messages: [ … ]` or `fail: true`"));
                continue;
            }
            (None, None) if item.get("messages").is_some() => vec![plain],
            _ => {
                faults.push(Fault::new(item.span, "a canned reply has either `reply: { … }` or `fail: true`"));
                continue;
            }
        };
        if replies.is_empty() {
            faults.push(Fault::new(item.span, "a list of replies has at least one"));
        }
        if let Some(after) = item.get("after") {
            let after = duration(after, faults).unwrap_or(0);
            replies.iter_mut().for_each(|reply| reply.after = after);
        }
        if let Some(node) = item.get("messages").filter(|_| !is_connection) {
            faults.push(
                Fault::new(node.span, "a request has a reply, and no messages").help("write `on: WS …` or `on: EVENTS …` for a connection"),
            );
        }
        out.push(Canned { method, path, replies, messages });
    }
    out
}

/// What a server says over a connection: `{ json: 600, after: 5s }`, `{ event: heat, text: hot }`, `{ close: 1000 }`.
fn message(node: &Node, method: &str, faults: &mut Vec<Fault>) -> FeedMessage {
    let keys: &[&str] =
        if method == EVENTS { &["json", "text", "event", "id", "close", "after"] } else { &["json", "text", "close", "after"] };
    keys_of(node, "key of a message", keys, faults);
    let mut out = FeedMessage::default();
    let word = |name: &str| node.get(name).map(|n| n.text().map_or_else(|| n.to_json().to_string(), str::to_owned));
    (out.event, out.id) = (word("event"), word("id"));
    out.after = node.get("after").and_then(|n| duration(n, faults)).unwrap_or(0);
    match (node.get("json"), node.get("text"), node.get("close")) {
        (Some(json), None, None) => out.text = json.to_json().to_string(),
        (None, Some(text), None) => out.text = text.text().unwrap_or_default().to_owned(),
        (None, None, Some(close)) => {
            match close.to_json().as_u64().and_then(|c| u16::try_from(c).ok()).filter(|c| (1000..=4999).contains(c)) {
                Some(code) => out.close = Some(code),
                None => faults.push(Fault::kind(close.span, "close", "a code from 1000 to 4999", close.kind())),
            }
        }
        _ => faults.push(Fault::new(node.span, "a message has one of `json`, `text` and `close`")),
    }
    out
}

/// `GET /api/kilns/*`.
pub(super) fn request(node: &Node, faults: &mut Vec<Fault>) -> Option<(String, String)> {
    let found = node.text().and_then(|t| t.split_once(' ')).map(|(m, p)| (m.to_uppercase(), p.trim().to_owned()));
    // A socket's address is that of a request with another scheme.
    let found = found.map(|(m, p)| if m == WS && p.starts_with("ws") { (m, p.replacen("ws", "http", 1)) } else { (m, p) });
    let sound = found.filter(|(m, p)| METHODS.contains(&m.as_str()) && (p.starts_with('/') || p.starts_with("http")));
    if sound.is_none() {
        faults.push(Fault::new(node.span, "a request is a method and a path").help("write `GET /api/kilns/*`; `*` stands for anything"));
    }
    sound
}

fn filled(mut reply: Reply, node: &Node, faults: &mut Vec<Fault>) -> Reply {
    keys_of(node, "key of a reply", &["status", "headers", "json", "text", "after", "fail"], faults);
    if !matches!(node.data, Data::Map(_)) {
        faults.push(Fault::kind(node.span, "reply", "`{ status, headers, json, text, after }`", node.kind()));
    }
    reply.fail = node.get("fail").is_some_and(|n| n.to_json() == true);
    if let Some(status) = node.get("status") {
        match status.to_json().as_u64().and_then(|s| u16::try_from(s).ok()).filter(|s| (200..=599).contains(s)) {
            Some(status) => reply.status = status,
            None => faults.push(Fault::kind(status.span, "status", "a status from 200 to 599", status.kind())),
        }
    }
    for (name, value) in node.get("headers").map_or(&[][..], Node::entries) {
        let text = match value.to_json() {
            Json::String(text) => text,
            other => other.to_string(),
        };
        reply.headers.insert(name.text().unwrap_or_default().to_owned(), text);
    }
    match (node.get("json"), node.get("text")) {
        (Some(json), None) => {
            reply.text = json.to_json().to_string();
            reply.headers.entry("content-type".into()).or_insert_with(|| "application/json".into());
        }
        (None, Some(text)) => reply.text = text.text().unwrap_or_default().to_owned(),
        (Some(_), Some(text)) => faults.push(Fault::new(text.span, "a reply has a body once: `json` or `text`")),
        (None, None) => {}
    }
    if let Some(after) = node.get("after") {
        reply.after = duration(after, faults).unwrap_or(0);
    }
    reply
}

fn clock(root: &Node, faults: &mut Vec<Fault>) -> Option<i64> {
    let node = root.get("clock")?;
    keys_of(node, "key of the clock", &["starts"], faults);
    let Some(starts) = node.get("starts") else {
        faults.push(Fault::kind(node.span, "clock", "`starts:` with a time", node.kind()));
        return None;
    };
    let at = starts.text().and_then(instant);
    if at.is_none() {
        faults.push(Fault::new(starts.span, "this is no time").help("write it in UTC, as `2031-03-01T09:00:00Z`"));
    }
    at
}

/// Milliseconds since 1970 of `2031-03-01T09:00:00Z` or `2031-03-01` (RFC 3339, UTC alone).
fn instant(text: &str) -> Option<i64> {
    let (date, time) = text.split_once(['T', ' ']).unwrap_or((text, "00:00:00Z"));
    let numbers = |text: &str, by: char| text.split(by).map(|p| p.parse::<i64>().ok()).collect::<Option<Vec<_>>>();
    let [year, month, day] = numbers(date, '-')?[..] else { return None };
    let [hour, minute, second] = numbers(time.strip_suffix('Z')?, ':')?[..] else { return None };
    let valid = (1..=12).contains(&month) && (1..=31).contains(&day) && hour < 24 && minute < 60 && second < 60;
    let days = fidelon_dom::calendar::days_before(year, month, day);
    valid.then_some(((days * 24 + hour) * 60 + minute) * 60_000 + second * 1000)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::contract::yaml;

    #[test]
    fn times_are_read_in_utc() {
        for (text, at) in [
            ("2031-03-01T09:00:00Z", Some(1_930_122_000_000)),
            ("1970-01-01T00:00:00Z", Some(0)),
            ("2028-02-29", Some(1_835_395_200_000)),
            ("2031-13-01", None),
            ("2031-03-01T09:00:00", None),
            ("noon", None),
        ] {
            assert_eq!(instant(text), at, "{text}");
        }
    }

    #[test]
    fn replies_are_read() {
        let text = "network:\n  - on: get /api/kilns/*\n    reply: { status: 201, json: { hot: true }, after: 2s }\n  - { on: POST /api/pieces, fail: true, after: 50ms }\n  - { on: GET /api/pieces, reply: [{ fail: true }, { text: ok }] }\n";
        let mut faults = Vec::new();
        let network = surroundings(&yaml::parse(text).expect("YAML"), &mut faults).network.expect("there");
        assert!(faults.is_empty(), "{faults:?}");
        assert_eq!((network[0].method.as_str(), network[0].path.as_str()), ("GET", "/api/kilns/*"));
        let first = &network[0].replies[0];
        assert_eq!((first.status, first.text.as_str(), first.after), (201, "{\"hot\":true}", 2000));
        assert_eq!((network[1].replies[0].fail, network[1].replies[0].after), (true, 50));
        assert_eq!(network[2].replies.iter().map(|r| r.fail).collect::<Vec<_>>(), [true, false]);
    }

    #[test]
    fn what_connections_say_is_read() {
        let text = "network:\n  - on: ws /feed\n    after: 1s\n    messages: [{ json: { heat: 600 } }, { text: hot, after: 2s }, { close: 1001, after: 3s }]\n  - on: EVENTS /news\n    messages: { event: glaze, id: 7, text: new }\n  - { on: WS wss://kiln.example/none, fail: true }\n";
        let mut faults = Vec::new();
        let network = surroundings(&yaml::parse(text).expect("YAML"), &mut faults).network.expect("there");
        assert!(faults.is_empty(), "{faults:?}");
        assert_eq!((network[0].method.as_str(), network[0].replies[0].after), ("WS", 1000));
        let said: Vec<_> = network[0].messages.iter().map(|m| (m.text.as_str(), m.close, m.after)).collect();
        assert_eq!(said, [("{\"heat\":600}", None, 0), ("hot", None, 2000), ("", Some(1001), 3000)]);
        let news = &network[1].messages[0];
        assert_eq!((news.event.as_deref(), news.id.as_deref(), news.text.as_str()), (Some("glaze"), Some("7"), "new"));
        assert!(network[2].replies[0].fail && network[2].messages.is_empty() && network[2].path == "https://kiln.example/none");
    }

    #[test]
    fn faults_of_replies() {
        for (text, part) in [
            ("network: [{ reply: {} }]", "`on` is missing"),
            ("network: [{ on: /api }]", "a method and a path"),
            ("network: [{ on: FETCH /api, fail: true }]", "a method and a path"),
            ("network: [{ on: GET /api }]", "either `reply"),
            ("network: [{ on: WS /api, reply: {} }]", "not answered by a reply"),
            ("network: [{ on: EVENTS /api }]", "either `messages"),
            ("network: [{ on: GET /api, reply: {}, messages: [] }]", "no messages"),
            ("network: [{ on: GET /api, messages: [{ json: 1 }] }]", "no messages"),
            ("network: [{ on: WS /api, messages: [{ event: a, text: b }] }]", "no key of a message"),
            ("network: [{ on: WS /api, messages: [{ after: 1s }] }]", "one of `json`"),
            ("network: [{ on: WS /api, messages: [{ close: 7 }] }]", "a code from 1000"),
            ("network: [{ on: GET /api, reply: { status: 99 } }]", "status from 200"),
            ("network: [{ on: GET /api, reply: { json: 1, text: a } }]", "a body once"),
            ("network: [{ on: GET /api, reply: { jsno: 1 } }]", "no key of a reply"),
            ("network: [{ on: GET /api, reply: [] }]", "at least one"),
            ("network: [{ on: GET /api, reply: ok }]", "`reply` needs"),
            ("clock: { starts: noon }", "this is no time"),
            ("clock: noon", "`starts:`"),
        ] {
            let mut faults = Vec::new();
            surroundings(&yaml::parse(text).expect("YAML"), &mut faults);
            assert!(faults.iter().any(|f| f.message.contains(part)), "{text}: {faults:?}");
        }
    }
}
