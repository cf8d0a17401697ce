//! Addresses (URL Standard), by the `url` crate.

use std::collections::BTreeMap;

use url::Url;

use super::Natives;

pub(crate) fn register(n: &mut Natives<'_, '_>) -> rquickjs::Result<()> {
    n.add("url_parse", |text: String, base: String| {
        let parsed = if base.is_empty() { Url::parse(&text) } else { Url::parse(&base).and_then(|b| b.join(&text)) };
        parsed.ok().map(|u| parts(&u))
    })?;
    n.add("url_set", |href: String, part: String, value: String| {
        let mut url = Url::parse(&href).ok()?;
        if part == "href" {
            url = Url::parse(&value).ok()?;
        } else {
            // The setters of the standard ignore a value that does not fit; so do these.
            match part.as_str() {
                "protocol" => drop(url::quirks::set_protocol(&mut url, &value)),
                "username" => drop(url::quirks::set_username(&mut url, &value)),
                "password" => drop(url::quirks::set_password(&mut url, &value)),
                "host" => drop(url::quirks::set_host(&mut url, &value)),
                "hostname" => drop(url::quirks::set_hostname(&mut url, &value)),
                "port" => drop(url::quirks::set_port(&mut url, &value)),
                "pathname" => url::quirks::set_pathname(&mut url, &value),
                "search" => url::quirks::set_search(&mut url, &value),
                _ => url::quirks::set_hash(&mut url, &value),
            }
        }
        Some(parts(&url))
    })?;
    n.add("query_parse", |text: String| {
        url::form_urlencoded::parse(text.as_bytes()).map(|(k, v)| vec![k.into_owned(), v.into_owned()]).collect::<Vec<_>>()
    })?;
    n.add("query_write", |pairs: Vec<Vec<String>>| {
        let mut out = url::form_urlencoded::Serializer::new(String::new());
        for pair in &pairs {
            if let [k, v] = pair.as_slice() {
                out.append_pair(k, v);
            }
        }
        out.finish()
    })
}

fn parts(url: &Url) -> BTreeMap<String, String> {
    use url::quirks as q;
    [
        ("href", q::href(url)),
        ("protocol", q::protocol(url)),
        ("username", q::username(url)),
        ("password", q::password(url)),
        ("host", q::host(url)),
        ("hostname", q::hostname(url)),
        ("port", q::port(url)),
        ("pathname", q::pathname(url)),
        ("search", q::search(url)),
        ("hash", q::hash(url)),
    ]
    .into_iter()
    .map(|(k, v)| (k.to_owned(), v.to_owned()))
    .chain([("origin".to_owned(), q::origin(url))])
    .collect()
}
